/** Every job, by what it waits for. */
export { JobList } from './JobList'
export { ShelfPage } from './ShelfPage'
