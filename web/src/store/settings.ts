// Settings of this browser: kept over a reload, with what is new in this version at its start.
import { createStore, type Store } from './store'

/** A store of settings under a key of the browser's own store; `read` makes today's settings of what was kept, or of nothing. */
export function createSettings<T>(key: string, read: (kept: Partial<T>) => T): Store<T> {
  const store = createStore(read(kept<T>(key)))
  return {
    ...store,
    set(next) {
      localStorage.setItem(key, JSON.stringify(next))
      store.set(next)
    },
  }
}

function kept<T>(key: string): Partial<T> {
  try {
    return JSON.parse(localStorage.getItem(key) ?? '{}') as Partial<T>
  } catch {
    return {}
  }
}
