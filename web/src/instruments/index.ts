/** The shop's instruments, who answers, and checks against the standard. */
export { InstrumentsPage } from './InstrumentsPage'
