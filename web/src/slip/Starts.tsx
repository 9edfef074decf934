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

interface StartsProps {
  /** Opens the list of files when it is clicked. */
  picker: RefObject<HTMLInputElement | null>
  part: string
  onStart: (words: string) => void
  onFiles: (files: File[]) => void
}

export function Starts({ part, picker, onStart, onFiles }: StartsProps) {
  return (
    <div className="starts">
      <span className="quiet">Or a line of words:</span>
      {STARTS[part as PartKey].map((word) => (
        <button key={word} type="button" className="link" onClick={() => onStart(`${word} `)}>
          {word}
        </button>
      ))}
      <button type="button" className="link" onClick={() => picker.current?.click()}>
        picture or record
      </button>
      <input
        ref={picker}
        type="file"
        multiple
        accept="image/jpeg,image/png,image/webp,.csv,.sigmf-meta,.sigmf-data,.wav,.s1p,.s2p"
        hidden
        aria-label="Picture or record"
        onChange={(e) => {
          onFiles([...(e.target.files ?? [])])
          e.target.value = ''
        }}
      />
    </div>
  )
}
