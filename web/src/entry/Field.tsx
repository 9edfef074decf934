// The one field: what did you read? It keeps what is typed, says what it understood, and hands a line to the outbox.
import { useQuery } from '@tanstack/react-query'
import { useEffect, useImperativeHandle, useRef, useState, type KeyboardEvent, type ReactNode, type Ref } from 'react'
import { understandOptions } from '../api/queries'
import { actionOf, type Action } from '../keys'
import type { Conditions } from './chips'
import { outbox } from './outbox'
import { useStored } from '../store'
import { Understood } from './Understood'

/** What a view may do with the field. */
export interface FieldHandle {
  focus: () => void
  begin: (words: string, supersedes?: string) => void
  take: () => void
  isEmpty: () => boolean
}

const REASONS = ['mistyped', 'misread', 'taken at the wrong point'] as const

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
}

/** The one field, with what it understood beneath. */
export function Field({
  job,
  item,
  row,
  model = null,
  conditions,
  placeholder,
  due = null,
  live = null,
  ref,
  onAction,
  onFile,
}: FieldProps) {
  const [text, setText] = useStored(`draft:${job ?? 'loose'}`, '')
  const [supersedes, setSupersedes] = useState<string | null>(null)
  const [reason, setReason] = useState<string>(REASONS[0])
  const [choice, setChoice] = useState<{ text: string; sense: number } | null>(null)
  const [refusal, setRefusal] = useState<string | null>(null)
  const input = useRef<HTMLInputElement>(null)
  const asksForFile = onFile !== undefined && text.trim().toLowerCase() === 'file'
  const { data: latest, error } = useQuery({
    ...understandOptions({ text: asksForFile ? '' : text, job, item, row, model, conditions }),
    // while the answer to the newest key is on its way the last answer of this slip stays
    placeholderData: (before) => (text.trim() === '' ? undefined : before),
  })
  const understood = text.trim() === '' || asksForFile ? undefined : latest
  const sense = choice?.text === text ? choice.sense : null

  useEffect(
    () =>
      outbox.onOutcome(({ line, problem }) => {
        if (problem === null || (line.job ?? null) !== job) return
        setRefusal(`${problem.message} Your text is back in the field.`)
        setText(line.text)
      }),
    [job, setText],
  )

  const take = () => {
    if (text.trim() === '') return
    if (asksForFile) {
      setText('')
      onFile()
      return
    }
    outbox.put({
      id: crypto.randomUUID(),
      text,
      job,
      item,
      row,
      model,
      conditions,
      sense,
      supersedes,
      reason: supersedes === null ? '' : reason,
    })
    setText('')
    setSupersedes(null)
    setRefusal(null)
    input.current?.focus()
  }

  useImperativeHandle(ref, () => ({
    focus: () => input.current?.focus(),
    begin: (words, replaced) => {
      setText(words)
      setSupersedes(replaced ?? null)
      input.current?.focus()
    },
    take,
    isEmpty: () => text.trim() === '',
  }))

  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    if (text === '') {
      const action = event.ctrlKey || event.metaKey || event.altKey ? null : actionOf(event.key)
      // the key that goes to the field is a plain sign in it: '.5w'
      if (action !== null && action !== 'field' && onAction(action)) event.preventDefault()
      return
    }
    if (event.key === 'Enter' && !event.nativeEvent.isComposing) {
      event.preventDefault()
      const open = understood?.text === text && understood.question !== null && sense === null
      if (!open) take()
    } else if (event.key === 'Tab' && !event.shiftKey && understood !== undefined && understood.meanings.length > 1) {
      event.preventDefault()
      const at = sense ?? understood.chosen ?? -1
      setChoice({ text, sense: (at + 1) % understood.meanings.length })
    } else if (event.key === 'Escape') {
      setText('')
      setSupersedes(null)
    }
  }

  const clear =
    asksForFile ||
    (understood !== undefined &&
      understood.text === text &&
      (understood.story !== null || (sense ?? understood.chosen) !== null))
  return (
    <>
      <form
        className="entry"
        onSubmit={(e) => {
          e.preventDefault()
          take()
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
          onChange={(e) => {
            setText(e.target.value)
            setRefusal(null)
          }}
          onKeyDown={onKeyDown}
        />
        <button type="submit" className="take" disabled={!clear}>
          Take it
        </button>
      </form>
      {supersedes !== null && (
        <div className="senses">
          <span className="ask-line">Replaces the line you chose, because it was</span>
          {REASONS.map((r) => (
            <button key={r} type="button" className="chip" aria-pressed={r === reason} onClick={() => setReason(r)}>
              {r}
            </button>
          ))}
        </div>
      )}
      {refusal !== null && (
        <p className="ask-line" role="alert">
          {refusal}
        </p>
      )}
      {refusal === null && error !== null && text.trim() !== '' && (
        <p className="ask-line" role="status">
          {error.message}
        </p>
      )}
      {asksForFile && (
        <p className="ask-line" role="status">
          Enter opens the list of files: a record of an instrument, or a picture.
        </p>
      )}
      <Understood
        due={due}
        live={live}
        understood={understood}
        sense={sense}
        onSense={(n) => {
          setChoice({ text, sense: n })
          input.current?.focus()
        }}
        onAppend={(words) => {
          setText(text + words)
          input.current?.focus()
        }}
      />
    </>
  )
}
