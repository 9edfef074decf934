// What is typed in the one field: kept over a reload, understood with every key, handed to the outbox.
import { useQuery } from '@tanstack/react-query'
import { useEffect, useState, type RefObject } from 'react'
import { understandOptions } from '../api/queries'
import { useStored } from '../store'
import type { Conditions } from './chips'
import type { Schemas } from '../api/client'
import { outbox } from './outbox'

/** Why a line is replaced by another. */
export const REASONS = ['mistyped', 'misread', 'taken at the wrong point'] as const

/** What a text is read and judged by. */
export interface FieldPlace {
  job: string | null
  item: string | null
  row: string | null
  /** What a loose line is judged by. */
  model: string | null
  conditions: Conditions
}

/** What a text may do besides being taken: 'file' opens something, a place alone moves the hand. */
export interface FieldMoves {
  onFile?: (() => void) | undefined
  onMove?: ((sets: Conditions) => void) | undefined
  /** A text was taken, or emptied with Escape: what comes next may begin in the field. */
  onTaken?: ((text: string) => void) | undefined
  onCleared?: (() => void) | undefined
}

/** The text of the field and what can be done with it. */
export function useField(place: FieldPlace, input: RefObject<HTMLInputElement | null>, moves: FieldMoves) {
  const { onFile, onMove, onTaken, onCleared } = moves
  const { job } = place
  const [text, setText] = useStored(`draft:${job ?? 'loose'}`, '')
  const [supersedes, setSupersedes] = useState<string | null>(null)
  const [reason, setReason] = useState<string>(REASONS[0])
  const [choice, setChoice] = useState<{ text: string; sense: number } | null>(null)
  const [refusal, setRefusal] = useState<string | null>(null)
  const [noteAskedOf, setNoteAskedOf] = useState<string | null>(null)
  const isEmpty = text.trim() === ''
  const asksForFile = onFile !== undefined && text.trim().toLowerCase() === 'file'
  const { data: latest, error } = useQuery({
    ...understandOptions({ text: asksForFile ? '' : text, ...place }),
    // while the answer to the newest key is on its way the last answer of this slip stays
    placeholderData: (before) => (isEmpty ? undefined : before),
  })
  const understood = isEmpty || asksForFile ? undefined : latest
  const isNewest = understood?.text === text
  const sense = choice?.text === text ? choice.sense : null

  useEffect(
    () =>
      outbox.onOutcome(({ line, problem }) => {
        if (problem === null || (line.job ?? null) !== job) return
        // a question is shown with its answers as soon as the text is back; it was asked with Enter already
        if (problem.code === 'not_understood') setNoteAskedOf(line.text)
        else setRefusal(`${problem.message} Your text is back in the field.`)
        setText(line.text)
      }),
    [job, setText],
  )

  const move = (sets: Conditions) => {
    onMove?.(sets)
    setText('')
    setNoteAskedOf(null)
    input.current?.focus()
  }
  const begin = (words: string, replaced: string | null = null) => {
    setText(words)
    setSupersedes(replaced)
    input.current?.focus()
  }
  const take = (asNote = false, chosen = sense) => {
    if (isEmpty) return
    if (asksForFile) {
      setText('')
      onFile()
      return
    }
    const sets = isNewest && !asNote ? understood.sets : null
    if (sets != null && onMove !== undefined) {
      move(sets)
      return
    }
    outbox.put({
      id: crypto.randomUUID(),
      text,
      ...place,
      sense: asNote ? null : chosen,
      as_note: asNote,
      supersedes,
      reason: supersedes === null ? '' : reason,
    })
    begin('')
    setRefusal(null)
    setNoteAskedOf(null)
    onTaken?.(text)
  }
  const isQuestion = isNewest && understood.question !== null && sense === null
  const noteAsked = noteAskedOf === text
  return {
    text,
    isEmpty,
    asksForFile,
    understood,
    sense,
    supersedes,
    reason,
    setReason,
    problem: refusal ?? (error !== null && !isEmpty ? error.message : null),
    isRefused: refusal !== null,
    isClear: asksForFile || (isNewest && isAnswered(understood, sense)),
    noteAsked,
    begin,
    take,
    /** Enter: takes what is clear; at a question it asks once more, and then keeps the text as it is. */
    enter: () => {
      if (!isQuestion) take()
      else if (noteAsked && understood.as_note !== null) take(true)
      else setNoteAskedOf(text)
    },
    type: (words: string) => {
      setText(words)
      setRefusal(null)
    },
    append: (words: string) => {
      setText(text + words)
      input.current?.focus()
    },
    clear: () => {
      setText('')
      setSupersedes(null)
      onCleared?.()
    },
    choose: (number: number) => setChoice({ text, sense: number }),
    /** One of the answers to the question, by its number from 1; whether there is such a one. */
    answer: (number: number): boolean => {
      const choice = isQuestion ? understood.choices[number - 1] : undefined
      if (choice === undefined) return false
      if (choice.sets !== null) move(choice.sets)
      else take(false, choice.sense)
      return true
    },
  }
}

const isAnswered = (understood: Schemas['UnderstoodOut'], sense: number | null) =>
  (understood.story !== null && understood.question === null) ||
  understood.sets !== null ||
  (sense ?? understood.chosen) !== null
