/** The path from the unit to the instruments. */
export { PathCard } from './PathCard'
export { hangsInPath, usePath } from './usePath'
export { PathPage } from './PathPage'
