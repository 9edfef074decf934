// The boards of a model on its sheet: pictures with pins, and what is known of each place.
import type { UseMutationResult } from '@tanstack/react-query'
import type { Schemas } from '../api/client'
import { PinnedPicture, within } from '../ui/PinnedPicture'

type Sheet = Schemas['GearSheet']
type Board = Schemas['SheetBoard']
export type BoardBody = Schemas['GearBoardIn']
type SheetAct<T> = UseMutationResult<Sheet, Error, T>

interface ModelBoardsProps {
  sheet: Sheet
  edits: boolean
  acts: {
    addBoard: SheetAct<File>
    putBoard: SheetAct<{ id: string; body: BoardBody }>
    dropBoard: SheetAct<string>
  }
}

/** Every board of a model, those of slips beside its own. */
export function ModelBoards({ sheet, edits, acts }: ModelBoardsProps) {
  if (sheet.boards.length === 0 && !edits) return null
  const problem = acts.addBoard.error ?? acts.putBoard.error ?? acts.dropBoard.error
  return (
    <section aria-label="Boards">
      <h3>
        Boards{' '}
        {edits && (
          <label className="link">
            Add a picture of one
            <input
              type="file"
              hidden
              accept="image/jpeg,image/png,image/webp"
              aria-label="Picture of a board"
              onChange={(e) => {
                const file = e.target.files?.[0]
                if (file !== undefined) acts.addBoard.mutate(file)
                e.target.value = ''
              }}
            />
          </label>
        )}
      </h3>
      {problem !== null && (
        <p role="alert" className="ask-line">
          {problem.message}
        </p>
      )}
      <div className="model-boards">
        {sheet.boards.map((board) => (
          <OneBoard key={board.id} board={board} probes={sheet.probes} edits={edits && board.on_sheet} acts={acts} />
        ))}
      </div>
    </section>
  )
}

interface OneBoardProps extends Pick<ModelBoardsProps, 'edits' | 'acts'> {
  board: Board
  probes: Record<string, string>
}

function OneBoard({ board, probes, edits, acts }: OneBoardProps) {
  const pins = board.pins.map((pin, n) => ({ ...pin, id: String(n) }))
  const put = (changed: Partial<BoardBody>) => {
    const { side, words } = board
    const told = { side, words, pins: board.pins, ...changed }
    const plain = told.pins.map((pin) => ({ name: pin.name, probe: pin.probe, x: pin.x, y: pin.y }))
    acts.putBoard.mutate({ id: board.id, body: { ...told, pins: plain } })
  }
  const replaced = (pin: (typeof pins)[number]) => {
    const others = pins.filter((p) => p.id !== pin.id && (pin.probe === '' || p.probe !== pin.probe))
    put({ pins: [...others, pin].sort((a, b) => Number(a.id) - Number(b.id)) })
  }
  return (
    <figure>
      <PinnedPicture
        src={`/api/pictures/${board.sha256}`}
        alt={`${board.side} side: ${board.words}`}
        pins={pins}
        writes={edits}
        placeWords="put a pin"
        pinAt={(place) => ({ id: String(pins.length), name: `pin ${pins.length + 1}`, probe: '', about: '', ...place })}
        onPut={replaced}
        onTake={(id) => put({ pins: pins.filter((p) => p.id !== id) })}
        onNudge={(id, [x, y]) => {
          const pin = pins.find((p) => p.id === id)
          if (pin !== undefined) replaced({ ...pin, x: within(pin.x + x), y: within(pin.y + y) })
        }}
        more={(picked) => (
          <>
            {picked !== null && (
              <select
                className="chip"
                aria-label="What is looked at there"
                value={picked.probe}
                onChange={(e) => replaced({ ...picked, probe: e.target.value })}
              >
                <option value="">no look of its chain</option>
                {Object.entries(probes).map(([id, what]) => (
                  <option key={id} value={id}>
                    {what}
                  </option>
                ))}
              </select>
            )}
            <button
              type="button"
              className="link"
              onClick={() => put({ side: board.side === 'component' ? 'solder' : 'component' })}
            >
              it is the {board.side === 'component' ? 'solder' : 'component'} side
            </button>
            <button type="button" className="link" onClick={() => acts.dropBoard.mutate(board.id)}>
              no board
            </button>
          </>
        )}
      />
      <figcaption>
        {edits ? (
          <input
            className="small-input"
            aria-label="What the board is"
            key={board.words}
            defaultValue={board.words}
            maxLength={120}
            onBlur={(e) =>
              e.target.value.trim() !== '' && e.target.value !== board.words && put({ words: e.target.value })
            }
            onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
          />
        ) : (
          board.words
        )}{' '}
        <span className="quiet">
          {board.side} side{board.on_sheet ? '' : ', from the slip of a unit'}
        </span>
        <ul>
          {board.pins.map((pin) => (
            <li key={`${pin.name} ${pin.x}`}>
              <b>{pin.name}</b> {pin.about}
            </li>
          ))}
        </ul>
      </figcaption>
    </figure>
  )
}
