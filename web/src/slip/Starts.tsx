// The words a line of the slip can begin with, for those who do not know them yet; a picture, and what instruments saved.
import type { RefObject } from 'react'
import type { PartKey } from '../ui/words'

const STARTS: Record<PartKey, readonly string[]> = {
  in: ['said', 'wish', 'found', 'note', 'lock'],
  find: ['found', 'note', 'stage', 'wait', 'turned'],
  fix: ['did', 'turned', 'found', 'note', 'wait', 'arrived'],
  prove: ['note', 'found', 'turned', 'did'],
  out: ['advice', 'watch', 'note'],
}

/** Words that say outright which kind of line a text is. */
interface StartsProps {
  part: string
  /** There is a current line of the plan, which may be struck off. */
  planned: boolean
  onStart: (words: string) => void
}

export function Starts({ part, planned, onStart }: StartsProps) {
  return (
    <span className="starts">
      <span className="quiet">Or a line of words:</span>
      {planned && (
        <>
          <button type="button" className="link" onClick={() => onStart('not fitted')}>
            not fitted
          </button>
          <button type="button" className="link" onClick={() => onStart('not asked for')}>
            not asked for
          </button>
        </>
      )}
      {STARTS[part as PartKey].map((word) => (
        <button key={word} type="button" className="link" onClick={() => onStart(`${word} `)}>
          {word}
        </button>
      ))}
    </span>
  )
}

interface FilePickerProps {
  /** Opens the list of files when it is clicked. */
  picker: RefObject<HTMLInputElement | null>
  onFiles: (files: File[]) => void
}

/** A picture of the unit, or what an instrument saved. */
export function FilePicker({ picker, onFiles }: FilePickerProps) {
  return (
    <input
      ref={picker}
      type="file"
      multiple
      accept="image/jpeg,image/png,image/webp,.csv,.txt,.tsv,.sigmf-meta,.sigmf-data,.wav,.s1p,.s2p"
      hidden
      aria-label="Picture or record"
      onChange={(e) => {
        onFiles([...(e.target.files ?? [])])
        e.target.value = ''
      }}
    />
  )
}
