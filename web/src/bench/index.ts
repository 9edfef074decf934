/** The first screen: the field before there is a job, loose lines, what to do next. */
export { BenchPage } from './BenchPage'
