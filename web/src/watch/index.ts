/** Watching what comes and goes. */
export { WatchPage } from './WatchPage'
