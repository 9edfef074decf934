export { TraceCard } from './TraceCard'
