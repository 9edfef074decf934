/** Where next: traces, boards, practice. */
export { TraceCard } from './TraceCard'
export { PracticePage } from './PracticePage'
export { TracePage } from './TracePage'
