// The one field: what did you read? It keeps what is typed, says what it understood, and hands a line to the outbox.
import { useImperativeHandle, useRef, type KeyboardEvent, type ReactNode, type Ref } from 'react'
import { actionOf, type Action } from '../keys'
import type { Conditions } from './chips'
import { REASONS, useField } from './useField'
import { Understood } from './Understood'

/** What a view may do with the field. */
export interface FieldHandle {
  focus: () => void
  begin: (words: string, supersedes?: string) => void
  take: () => void
  isEmpty: () => boolean
}

interface FieldProps {
  job: string | null
  item: string | null
  row: string | null
  /** What a loose line is judged by. */
  model?: string | null
  conditions: Conditions
  placeholder: string
  due?: string | null
  ref: Ref<FieldHandle>
  /** Shown while nothing is typed: the live value. */
  live?: ReactNode
  /** A single key's action while nothing is typed; returns whether it meant something. */
  onAction: (action: Action) => boolean
  /** The word 'file' opens the list of files here. */
  onFile?: (() => void) | undefined
  /** Where the hand is now, where a text says only that. */
  onMove?: ((sets: Conditions) => void) | undefined
  /** A text was taken, or emptied with Escape. */
  onTaken?: ((text: string) => void) | undefined
  onCleared?: (() => void) | undefined
  /** The arrow keys beside a text; returns whether they meant something. */
  onStep?: ((by: 1 | -1) => boolean) | undefined
}

/** The one field, with what it understood beneath. */
export function Field(props: FieldProps) {
  const { job, item, row, model = null, conditions, placeholder, due = null, live = null, ref, onAction } = props
  const input = useRef<HTMLInputElement>(null)
  const field = useField({ job, item, row, model, conditions }, input, props)
  const { text, understood, sense } = field
  const focus = () => input.current?.focus()

  useImperativeHandle(ref, () => ({
    focus,
    begin: field.begin,
    take: () => field.take(),
    isEmpty: () => field.isEmpty,
  }))

  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    if (text === '') {
      const action = event.ctrlKey || event.metaKey || event.altKey ? null : actionOf(event.key)
      // the key that goes to the field is a plain sign in it: '.5w'; and so is every letter: 'keyed 0.9a'
      const types = action === 'field' || /^\p{L}$/u.test(event.key)
      if (action !== null && !types && onAction(action)) event.preventDefault()
      return
    }
    if (field.noteAsked && /^[1-4]$/.test(event.key) && field.answer(Number(event.key))) {
      event.preventDefault()
    } else if (event.key === 'Enter' && !event.nativeEvent.isComposing) {
      event.preventDefault()
      field.enter()
    } else if (event.key === 'Tab' && !event.shiftKey && understood !== undefined && understood.meanings.length > 1) {
      event.preventDefault()
      field.choose(((sense ?? understood.chosen ?? -1) + 1) % understood.meanings.length)
    } else if (event.key === 'Escape') {
      field.clear()
    } else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      if (props.onStep?.(event.key === 'ArrowDown' ? 1 : -1) === true) event.preventDefault()
    }
  }

  return (
    <>
      <form
        className="entry"
        onSubmit={(e) => {
          e.preventDefault()
          field.enter()
        }}
      >
        <input
          ref={input}
          className="field"
          aria-label="What did you read?"
          placeholder={placeholder}
          value={text}
          maxLength={2000}
          autoFocus
          autoComplete="off"
          autoCapitalize="off"
          spellCheck={false}
          enterKeyHint="done"
          onChange={(e) => field.type(e.target.value)}
          onKeyDown={onKeyDown}
        />
        <button type="submit" className="take" disabled={!field.isClear}>
          Take it
        </button>
      </form>
      {field.supersedes !== null && <WhyReplaced reason={field.reason} onReason={field.setReason} />}
      {field.problem !== null && (
        <p className="ask-line" role={field.isRefused ? 'alert' : 'status'}>
          {field.problem}
        </p>
      )}
      {field.asksForFile && (
        <p className="ask-line" role="status">
          Enter opens the list of files: a record of an instrument, or a picture.
        </p>
      )}
      <Understood
        due={due}
        live={live}
        understood={understood}
        sense={sense}
        noteAsked={field.noteAsked}
        onSense={(number) => {
          field.choose(number)
          focus()
        }}
        onAppend={field.append}
        onAnswer={(number) => {
          field.answer(number)
          focus()
        }}
      />
    </>
  )
}

function WhyReplaced({ reason, onReason }: { reason: string; onReason: (reason: string) => void }) {
  return (
    <div className="senses">
      <span className="ask-line">Replaces the line you chose, because it was</span>
      {REASONS.map((r) => (
        <button key={r} type="button" className="chip" aria-pressed={r === reason} onClick={() => onReason(r)}>
          {r}
        </button>
      ))}
    </div>
  )
}
