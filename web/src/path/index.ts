/** The path from the unit to the instruments. */
export { hangsInPath, usePath } from './usePath'
export { PathPage, PathView } from './PathPage'
