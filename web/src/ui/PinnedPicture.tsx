// A picture with named pins: a pin is put, dragged or moved with the arrows, named, and taken off.
import { useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react'

const STEP = 0.01
const ARROWS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
}
/** A share of a side, kept on the picture. */
export const within = (share: number) => Math.min(1, Math.max(0, share))

/** A pin, as shares of the picture's width and height from its upper left corner. */
export interface PinAt {
  id: string
  name: string
  x: number
  y: number
}

interface PinnedPictureProps<P extends PinAt> {
  src: string
  alt: string
  pins: readonly P[]
  /** The pin that is next to be touched. */
  next?: string | null
  writes: boolean
  /** What putting a pin is called. */
  placeWords: string
  /** The pin that is put at a place. */
  pinAt: (place: { x: number; y: number }) => P
  onPut: (pin: P) => void
  onTake: (id: string) => void
  onNudge: (id: string, by: readonly [number, number]) => void
  /** What else may be done: with the pin that is picked, and with the picture. */
  more?: (picked: P | null) => ReactNode
}

export function PinnedPicture<P extends PinAt>(props: PinnedPictureProps<P>) {
  const { src, alt, next = null, writes, placeWords, pinAt, onPut, onTake, onNudge, more } = props
  const area = useRef<HTMLDivElement>(null)
  const [placing, setPlacing] = useState(false)
  const [dragged, setDragged] = useState<P | null>(null)
  const [picked, setPicked] = useState<string | null>(null)
  const placeOf = (event: { clientX: number; clientY: number }) => {
    const box = area.current?.getBoundingClientRect() ?? new DOMRect(0, 0, 1, 1)
    return { x: within((event.clientX - box.left) / box.width), y: within((event.clientY - box.top) / box.height) }
  }
  const place = (event: PointerEvent) => {
    if (!placing) return
    const pin = pinAt(placeOf(event))
    setPlacing(false)
    setPicked(pin.id)
    onPut(pin)
  }
  const onKey = (pin: P) => (event: KeyboardEvent) => {
    const by = ARROWS[event.key]
    if (by !== undefined) {
      event.preventDefault()
      onNudge(pin.id, by)
    } else if (event.key === 'Delete') onTake(pin.id)
  }
  const pins = props.pins.map((p) => (p.id === dragged?.id ? dragged : p))
  const selected = pins.find((p) => p.id === picked) ?? null
  return (
    <>
      <div
        ref={area}
        className={placing ? 'board placing' : 'board'}
        onPointerDown={place}
        onPointerMove={(e) => dragged !== null && setDragged({ ...dragged, ...placeOf(e) })}
        onPointerUp={() => {
          if (dragged !== null) onPut(dragged)
          setDragged(null)
        }}
      >
        <img src={src} alt={alt} draggable={false} />
        {pins.map((pin) => (
          <button
            key={pin.id}
            type="button"
            className={['pin', pin.id === next && 'next', pin.x > 0.5 && 'leftward'].filter(Boolean).join(' ')}
            style={{ left: `${100 * pin.x}%`, top: `${100 * pin.y}%` }}
            aria-pressed={pin.id === picked}
            onFocus={() => setPicked(pin.id)}
            onPointerDown={(e) => {
              e.stopPropagation()
              if (writes) setDragged(pin)
            }}
            onKeyDown={writes ? onKey(pin) : undefined}
          >
            <span>{pin.name}</span>
          </button>
        ))}
      </div>
      {writes && (
        <p className="senses">
          <button type="button" className="chip" aria-pressed={placing} onClick={() => setPlacing(!placing)}>
            {placing ? 'now tap its place' : placeWords}
          </button>
          {selected !== null && (
            <>
              <input
                className="small-input"
                aria-label="Name of the pin"
                key={selected.id}
                defaultValue={selected.name}
                maxLength={60}
                onBlur={(e) =>
                  e.target.value.trim() !== '' &&
                  e.target.value !== selected.name &&
                  onPut({ ...selected, name: e.target.value })
                }
                onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
              />
              <button type="button" className="link" onClick={() => onTake(selected.id)}>
                take it off
              </button>
              <span className="quiet">drag it, or move it with the arrows</span>
            </>
          )}
          {more?.(selected)}
        </p>
      )}
    </>
  )
}
