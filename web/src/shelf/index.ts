export { JobList } from './JobList'
export { ShelfPage } from './ShelfPage'
