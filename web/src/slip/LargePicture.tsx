// A picture of the slip, large.
import { useEffect } from 'react'
import type { Schemas } from '../api/client'

export function LargePicture({ line, onClose }: { line: Schemas['LineOut']; onClose: () => void }) {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.key === 'Escape') onClose()
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [onClose])
  return (
    <div role="dialog" aria-label={line.text} aria-modal="true" className="large-picture">
      <button type="button" className="plain" autoFocus onClick={onClose} aria-label="Close the picture">
        <img src={`/api/pictures/${line.picture?.sha256 ?? ''}`} alt={line.text} />
        <p>{line.text} · tap to close</p>
      </button>
    </div>
  )
}
