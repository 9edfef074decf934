/** Watching what comes and goes. */
export { WatchPage, WatchView } from './WatchPage'
