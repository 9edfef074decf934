/** The report as the owner gets it. */
export { HandBackPage } from './HandBackPage'
