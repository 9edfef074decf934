export { PathCard } from './PathCard'
export { hangsInPath, usePath } from './usePath'
