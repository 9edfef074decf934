// State that survives a reload: what is being typed, and the chips.
import { useCallback, useState } from 'react'

/** State under a key of this browser, read again when the key changes. */
export function useStored<T>(key: string, start: T): readonly [T, (next: T) => void] {
  const [held, setHeld] = useState<{ key: string; value: T }>(() => ({ key, value: readStored(key, start) }))
  // another key is another thing: read it in the same render, so that no draft shows on the wrong slip
  const current = held.key === key ? held : { key, value: readStored(key, start) }
  if (current !== held) setHeld(current)
  const set = useCallback(
    (next: T) => {
      localStorage.setItem(key, JSON.stringify(next))
      setHeld({ key, value: next })
    },
    [key],
  )
  return [current.value, set]
}

function readStored<T>(key: string, start: T): T {
  const kept = localStorage.getItem(key)
  if (kept === null) return start
  try {
    return JSON.parse(kept) as T
  } catch {
    return start
  }
}
