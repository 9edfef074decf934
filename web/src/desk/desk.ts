// What every view may reach for: the field in use, the sums sheet, the list of keys.
import { createContext, useContext, useEffect, type RefObject } from 'react'
import type { FieldHandle } from '../entry'
import { actionOf, type Action } from '../keys'

/** What every view may reach for. */
export interface Desk {
  field: RefObject<FieldHandle | null>
  find: RefObject<HTMLInputElement | null>
  openSums: () => void
  openKeys: () => void
}

/** The desk around every view. */
export const DeskContext = createContext<Desk | null>(null)

/** The desk of this view; an error where the frame put none around it. */
export function useDesk(): Desk {
  const desk = useContext(DeskContext)
  if (desk === null) throw new Error('no desk around this view')
  return desk
}

/** Whether a key goes into a text. */
export const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))
const isPressing = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.closest('button, a, [role="menu"], [role="dialog"], summary') !== null

/** The actions that mean the same in every view; returns whether the action meant something. */
export function deskAction(desk: Desk, action: Action): boolean {
  if (action === 'sums') desk.openSums()
  else if (action === 'keys') desk.openKeys()
  else if (action === 'find') desk.find.current?.focus()
  else if (action === 'field') desk.field.current?.focus()
  else return false
  return true
}

/** Single keys, whenever no text is being typed; a focused button keeps Space and Enter. */
export function useSingleKeys(onAction: (action: Action) => boolean) {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return
      if (isPressing(event.target) && (event.key === ' ' || event.key === 'Enter')) return
      const action = actionOf(event.key)
      if (action !== null && onAction(action)) event.preventDefault()
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [onAction])
}
