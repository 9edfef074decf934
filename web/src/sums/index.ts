/** Tables to look something up in, and quick sums. */
export { LookUp } from './LookUp'
