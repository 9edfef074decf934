/** Models, chains and limits with their sources. */
export { LibraryPage } from './LibraryPage'
