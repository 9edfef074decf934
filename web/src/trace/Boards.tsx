// The board: pictures of the slip, and of its model's sheet, with pins on them.
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { PinnedPicture } from '../ui/PinnedPicture'
import { pinOf, SIDES, useBoards, type Board } from './useBoards'

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
            {b.fixed ? ' (its model’s sheet)' : b.ours ? '' : ' (another of this model)'}
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
  const mine = probe === null ? undefined : board.pins.find((p) => p.probe === probe.probe)
  const other = board.side === 'component' ? 'solder' : 'component'
  return (
    <PinnedPicture
      src={`/api/pictures/${board.sha256}`}
      alt={`${SIDES[board.side]}: ${board.words}`}
      pins={board.pins}
      next={mine?.id ?? null}
      writes={writes && !board.fixed}
      placeWords={probe === null ? 'put a pin' : `pin “${probe.what}”`}
      pinAt={(place) => ({
        id: mine?.id ?? crypto.randomUUID(),
        probe: probe?.probe ?? '',
        name: mine?.name ?? probe?.what.slice(0, 60) ?? `pin ${board.pins.length + 1}`,
        ...place,
      })}
      onPut={(pin) => acts.pin.mutate({ line: board.line, pin })}
      onTake={(pin) => acts.unpin.mutate({ line: board.line, pin })}
      onNudge={(pin, by) => acts.nudge(board.line, pin, by)}
      more={() =>
        board.ours && (
          <>
            <button type="button" className="link" onClick={() => acts.keep.mutate({ line: board.line, side: other })}>
              it is the {SIDES[other]}
            </button>
            <button type="button" className="link" onClick={() => acts.drop.mutate(board.line)}>
              no board
            </button>
          </>
        )
      }
    />
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
