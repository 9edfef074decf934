// The keys, each of which can be another; a press of the foot switch is a key too.
import { useState } from 'react'
import { ACTION_WORDS, keepKeys, keyName, reassigned, useKeySettings, type Action } from './keys'

/** The list of keys and sounds, each to be changed. */
export function Keys() {
  const settings = useKeySettings()
  const [waiting, setWaiting] = useState<Action | null>(null)
  return (
    <div
      className="sums"
      onKeyDown={(e) => {
        if (waiting === null || ['Shift', 'Control', 'Alt', 'Meta', 'Tab'].includes(e.key)) return
        e.preventDefault()
        e.stopPropagation()
        if (e.key !== 'Escape') keepKeys(reassigned(settings, waiting, e.key))
        setWaiting(null)
      }}
    >
      <h2 id="keys-title">Keys</h2>
      <p className="quiet">
        They act whenever no text is being typed; a letter always types in the field. Tap one, then press the key or the
        foot switch that is to do it.
      </p>
      <dl className="pairs">
        {(Object.keys(ACTION_WORDS) as Action[]).map((action) => (
          <div key={action} style={{ display: 'contents' }}>
            <dt>
              <button
                type="button"
                className="chip set"
                aria-label={`${keyName(settings.keys[action])}: ${ACTION_WORDS[action]}`}
                onClick={() => setWaiting(action)}
              >
                {waiting === action ? 'press a key' : keyName(settings.keys[action])}
              </button>
            </dt>
            <dd>{ACTION_WORDS[action]}</dd>
          </div>
        ))}
      </dl>
      <p className="quiet">While typing: Enter takes it, Tab walks through the senses of the text, Escape clears it.</p>
      <label>
        <input
          type="checkbox"
          checked={settings.on}
          onChange={(e) => keepKeys({ ...settings, on: e.target.checked })}
        />{' '}
        single keys act
      </label>
    </div>
  )
}
