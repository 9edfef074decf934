/** Quick sums. */
export { SumsSheet } from './SumsSheet'
