// State outside of React that several views follow: one helper for all of it.
import { useSyncExternalStore } from 'react'

/** A value that is replaced, never changed, and who follows it. */
export interface Store<T> {
  get: () => T
  set: (next: T) => void
  /** Have a function called after each change, until the returned one is called. */
  follow: (tell: () => void) => () => void
}

/** A store that begins with a value. */
export function createStore<T>(start: T): Store<T> {
  let value = start
  const watchers = new Set<() => void>()
  return {
    get: () => value,
    set(next) {
      value = next
      for (const tell of watchers) tell()
    },
    follow(tell) {
      watchers.add(tell)
      return () => {
        watchers.delete(tell)
      }
    },
  }
}

/** A part of a store. Who reads it is drawn anew when that part changes, and only then. */
export const useStore = <T, Part>(store: Store<T>, part: (value: T) => Part): Part =>
  useSyncExternalStore(store.follow, () => part(store.get()))

/** What happens once, told to everyone who listens; nothing is kept. */
export interface Teller<T> {
  tell: (happened: T) => void
  /** Have a function called each time, until the returned one is called. */
  listen: (hear: (happened: T) => void) => () => void
}

/** A teller that nobody listens to yet. */
export function createTeller<T>(): Teller<T> {
  const listeners = new Set<(happened: T) => void>()
  return {
    tell(happened) {
      for (const hear of listeners) hear(happened)
    },
    listen(hear) {
      listeners.add(hear)
      return () => {
        listeners.delete(hear)
      }
    },
  }
}
