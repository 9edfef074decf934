// What the questions need to know of the event stream: whether it is open, and from which event on.
import { createStore } from '../store'

const streaming = createStore(false)
let newest = '' // the newest event heard here; what came later is told when the stream opens

/** Whether events come: while they do, nothing need be asked again by the clock. */
export const isStreaming = streaming.get
export const setStreaming = streaming.set

/** What is asked from now on is at least as new as this event. The first that is told counts. */
export function beginAfter(event: string) {
  newest ||= event
}

/** Keep the newest event that was heard. */
export function heardEvent(event: string) {
  newest = event
}

export const newestEvent = () => newest
