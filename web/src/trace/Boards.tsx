// The board: pictures of the slip with pins on them. A pin is put, dragged or moved with the arrows, named, and taken off.
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import type { Schemas } from '../api/client'
import { pinOf, SIDES, useBoards, type Board, type Pin } from './useBoards'

const STEP = 0.01
const ARROWS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
}
const within = (share: number) => Math.min(1, Math.max(0, share))

interface BoardsProps {
  job: string
  /** The probe that is next, to be pinned. */
  probe: Schemas['ProbeOut'] | null
  pictures: Schemas['LineOut'][]
  writes: boolean
}

export function Boards({ job, probe, pictures, writes }: BoardsProps) {
  const acts = useBoards(job)
  const [chosen, setChosen] = useState<string | null>(null)
  const pinned = probe === null ? null : pinOf(acts.boards, probe.probe)
  const board = acts.boards.find((b) => b.line === chosen) ?? pinned?.board ?? acts.boards[0] ?? null
  const unused = pictures.filter((p) => !acts.boards.some((b) => b.line === p.id))
  if (board === null && (!writes || unused.length === 0)) return null
  return (
    <section className="card boards" aria-label="Board">
      <h2>Board</h2>
      {acts.problem !== null && (
        <p role="alert" className="ask-line">
          {acts.problem.message}
        </p>
      )}
      <p className="senses">
        {acts.boards.map((b) => (
          <button
            key={b.line}
            type="button"
            className="chip"
            aria-pressed={b.line === board?.line}
            onClick={() => setChosen(b.line)}
          >
            {SIDES[b.side]}: {b.words}
            {b.ours ? '' : ' (another of this model)'}
          </button>
        ))}
        {writes && unused.length > 0 && (
          <select
            className="chip"
            aria-label="Use a picture as board"
            value=""
            onChange={(e) =>
              acts.keep.mutate(
                { line: e.target.value, side: 'component' },
                { onSuccess: () => setChosen(e.target.value) },
              )
            }
          >
            <option value="">Use a picture …</option>
            {unused.map((p) => (
              <option key={p.id} value={p.id}>
                {p.text}
              </option>
            ))}
          </select>
        )}
      </p>
      {board !== null && <One key={board.line} board={board} probe={probe} acts={acts} writes={writes} />}
    </section>
  )
}

interface OneProps {
  board: Board
  probe: BoardsProps['probe']
  acts: ReturnType<typeof useBoards>
  writes: boolean
}

function One({ board, probe, acts, writes }: OneProps) {
  const area = useRef<HTMLDivElement>(null)
  const [placing, setPlacing] = useState(false)
  const [dragged, setDragged] = useState<Pin | null>(null)
  const [picked, setPicked] = useState<string | null>(null)
  const put = (pin: Pin) => acts.pin.mutate({ line: board.line, pin })
  const placeOf = (event: { clientX: number; clientY: number }) => {
    const box = area.current?.getBoundingClientRect() ?? new DOMRect(0, 0, 1, 1)
    return { x: within((event.clientX - box.left) / box.width), y: within((event.clientY - box.top) / box.height) }
  }
  const place = (event: PointerEvent) => {
    if (!placing) return
    const mine = board.pins.find((p) => p.probe === probe?.probe)
    const pin = {
      id: mine?.id ?? crypto.randomUUID(),
      probe: probe?.probe ?? '',
      name: mine?.name ?? probe?.what.slice(0, 60) ?? `pin ${board.pins.length + 1}`,
      ...placeOf(event),
    }
    setPlacing(false)
    setPicked(pin.id)
    put(pin)
  }
  const onKey = (pin: Pin) => (event: KeyboardEvent) => {
    const by = ARROWS[event.key]
    if (by !== undefined) {
      event.preventDefault()
      acts.nudge(board.line, pin.id, by)
    } else if (event.key === 'Delete') acts.unpin.mutate({ line: board.line, pin: pin.id })
  }
  const pins = board.pins.map((p) => (p.id === dragged?.id ? dragged : p))
  const selected = pins.find((p) => p.id === picked) ?? null
  return (
    <>
      <div
        ref={area}
        className={placing ? 'board placing' : 'board'}
        onPointerDown={place}
        onPointerMove={(e) => dragged !== null && setDragged({ ...dragged, ...placeOf(e) })}
        onPointerUp={() => {
          if (dragged !== null) put(dragged)
          setDragged(null)
        }}
      >
        <img src={`/api/pictures/${board.sha256}`} alt={`${SIDES[board.side]}: ${board.words}`} draggable={false} />
        {pins.map((pin) => (
          <button
            key={pin.id}
            type="button"
            className={['pin', pin.probe !== '' && pin.probe === probe?.probe && 'next', pin.x > 0.5 && 'leftward']
              .filter(Boolean)
              .join(' ')}
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
            {placing ? 'now tap its place' : probe === null ? 'put a pin' : `pin “${probe.what}”`}
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
                  put({ ...selected, name: e.target.value })
                }
              />
              <button
                type="button"
                className="link"
                onClick={() => acts.unpin.mutate({ line: board.line, pin: selected.id })}
              >
                take it off
              </button>
              <span className="quiet">drag it, or move it with the arrows</span>
            </>
          )}
          {board.ours && (
            <>
              <button
                type="button"
                className="link"
                onClick={() =>
                  acts.keep.mutate({ line: board.line, side: board.side === 'component' ? 'solder' : 'component' })
                }
              >
                it is the {SIDES[board.side === 'component' ? 'solder' : 'component']}
              </button>
              <button type="button" className="link" onClick={() => acts.drop.mutate(board.line)}>
                no board
              </button>
            </>
          )}
        </p>
      )}
    </>
  )
}

/** The place of a probe, seen closely. */
export function Spot({ job, probe }: { job: string; probe: string }) {
  const { boards } = useBoards(job)
  const found = pinOf(boards, probe)
  if (found === null) return null
  const { board, pin } = found
  return (
    <figure className="spot">
      <div
        role="img"
        aria-label={`${pin.name} on the ${SIDES[board.side]}`}
        style={{
          backgroundImage: `url(/api/pictures/${board.sha256})`,
          backgroundPosition: `${100 * pin.x}% ${100 * pin.y}%`,
        }}
      >
        <i aria-hidden="true" style={{ left: `${100 * pin.x}%`, top: `${100 * pin.y}%` }} />
      </div>
      <figcaption>
        {pin.name}, {SIDES[board.side]}
      </figcaption>
    </figure>
  )
}
