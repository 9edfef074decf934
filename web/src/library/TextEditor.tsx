// A data file of the library as this shop's own copy: its text, what is wrong with it by line, and every version there was.
import Button from '@mui/material/Button'
import { useState } from 'react'
import { dayOf } from '../ui/words'
import { RowsEditor, type EditKind } from './RowsEditor'

interface TextEditorProps {
  label: string
  /** As which rows it can be edited; a text of another kind is edited as text only. */
  rows?: { kind: EditKind; name: string }
  text: string
  /** What keeping it means, on the button. */
  keepWords: string
  /** What taking it away means; none where it cannot be. */
  withdrawWords: string | null
  /** What ships differently since the copy was made, line by line. */
  changed?: string
  versions: readonly { number: number; by: string; at: string; text: string }[]
  problem: Error | null
  busy: boolean
  /** A text that nobody kept yet may be kept as it is. */
  fresh?: boolean
  onKeep: (text: string) => void
  onWithdraw: () => void
  onDone: () => void
}

export function TextEditor({
  label,
  rows,
  text: start,
  keepWords,
  withdrawWords,
  changed = '',
  versions,
  problem,
  busy,
  fresh = false,
  onKeep,
  onWithdraw,
  onDone,
}: TextEditorProps) {
  const [text, setText] = useState(start)
  const [asText, setAsText] = useState(rows === undefined)
  return (
    <form
      className="profile-text"
      onSubmit={(e) => {
        e.preventDefault()
        onKeep(text)
      }}
    >
      {problem !== null && (
        <p className="banner" role="alert">
          {problem.message}
        </p>
      )}
      {changed !== '' && (
        <details className="caution" open>
          <summary>What ships in its place says otherwise</summary>
          <pre tabIndex={0}>{changed}</pre>
        </details>
      )}
      {rows !== undefined && (
        <p className="senses" role="group" aria-label="Edit it">
          <button type="button" className="chip" aria-pressed={!asText} onClick={() => setAsText(false)}>
            row by row
          </button>
          <button type="button" className="chip" aria-pressed={asText} onClick={() => setAsText(true)}>
            as text
          </button>
        </p>
      )}
      {rows !== undefined && !asText && <RowsEditor {...rows} text={text} onText={setText} />}
      {asText && (
        <textarea
          aria-label={label}
          value={text}
          rows={22}
          spellCheck={false}
          maxLength={200_000}
          onChange={(e) => setText(e.target.value)}
        />
      )}
      <p className="acts">
        <Button type="submit" variant="contained" disabled={(text === start && !fresh) || busy}>
          {keepWords}
        </Button>
        {withdrawWords !== null && (
          <Button disabled={busy} onClick={onWithdraw}>
            {withdrawWords}
          </Button>
        )}
        <Button onClick={onDone}>Leave it</Button>
      </p>
      {versions.length > 0 && (
        <p className="senses" role="group" aria-label="Versions of this shop">
          <span className="quiet">Versions of this shop:</span>
          {versions.map((v) => (
            <button
              key={v.number}
              type="button"
              className="chip"
              aria-pressed={v.text === text}
              onClick={() => setText(v.text)}
            >
              {v.number}, {v.by}, {dayOf(v.at)}
            </button>
          ))}
        </p>
      )}
    </form>
  )
}
