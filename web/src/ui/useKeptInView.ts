// What grows under the hand stays in sight: a reading that is being typed pushes none of itself out of the slip.
import { useEffect, type RefObject } from 'react'

/** Keeps an element that the hand types in in view whenever its size changes. */
export function useKeptInView(here: RefObject<HTMLElement | null>): void {
  useEffect(() => {
    const element = here.current
    if (element === null) return
    const observer = new ResizeObserver(() => {
      if (element.contains(document.activeElement)) element.scrollIntoView({ block: 'nearest' })
    })
    observer.observe(element)
    return () => observer.disconnect()
  }, [here])
}
