// The current line, large in its place: the word for the hand, what is asked, the field, the chips.
import { useRef, type Ref } from 'react'
import type { Schemas } from '../api/client'
import { ChipRow, Field } from '../entry'
import { keyName, useKeySettings } from '../keys'
import { KeyWord, LiveLine, Taken } from '../live'
import { CurrentTitle } from './OpenList'
import { FilePicker, Starts } from './Starts'
import type { SlipWork } from './useSlipWork'

export function CurrentLine({
  slip,
  work,
  ref,
}: {
  slip: Schemas['SlipOut']
  work: SlipWork
  ref: Ref<HTMLDivElement>
}) {
  const keys = useKeySettings().keys
  const picker = useRef<HTMLInputElement>(null)
  const { desk, current, conditions, writes, mine } = work
  return (
    <div className="now" ref={ref} onClick={work.giveBack}>
      {work.far && (
        <button type="button" className="link near" onClick={() => work.setFar(false)}>
          Near again ({keyName(keys.far)})
        </button>
      )}
      {writes && work.talks && !mine && (
        <p className="quiet">
          The live instruments are on another slip.{' '}
          <button type="button" className="link" onClick={work.sit}>
            Take them here
          </button>
        </p>
      )}
      <Taken job={slip.id} />
      <div className="asked">
        {writes && mine && <KeyWord besides={current?.name ?? null} />}
        <CurrentTitle current={current} slip={slip} />
      </div>
      <Field
        ref={desk.field}
        job={slip.id}
        item={slip.item}
        row={current?.row ?? null}
        conditions={conditions}
        placeholder={current === null ? 'What did you do, see or read?' : 'What did you read?'}
        due={current?.expected ?? null}
        live={work.hasLive ? <LiveLine row={current?.row ?? null} /> : null}
        onAction={work.onAction}
        onMove={work.onMove}
        onTaken={work.walk.taken}
        onCleared={work.walk.stop}
        onStep={work.walk.step}
        onFile={writes ? () => picker.current?.click() : undefined}
      />
      <div className="under">
        <ChipRow
          conditions={conditions}
          row={current}
          modes={slip.modes}
          channels={slip.channels}
          unit={current?.unit ?? null}
          pathName={!work.padded ? null : work.path.now?.name || 'as set up'}
          onChip={work.onChip}
        >
          <Starts part={slip.part} planned={current !== null} onStart={(words) => desk.field.current?.begin(words)} />
        </ChipRow>
        {writes && (
          <button type="button" className="link" onClick={() => picker.current?.click()}>
            picture
          </button>
        )}
      </div>
      <FilePicker picker={picker} onFiles={work.onFiles} />
    </div>
  )
}
