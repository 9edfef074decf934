// Which sounds are heard, and with which voice.
import {
  allowSound,
  keepSounds,
  play,
  SOUND_WORDS,
  stopTurning,
  turnTo,
  useSounds,
  VOICES,
  type Sound,
  type Voice,
} from './sounds'

/** Plays what happens at the bench; draws nothing. */
export function Sounds() {
  const settings = useSounds()
  const hear = (sound: Sound) => {
    allowSound()
    if (sound !== 'turn') play(sound)
    else {
      turnTo(440, null)
      setTimeout(stopTurning, 400)
    }
  }
  return (
    <div className="sums">
      <h2>Sounds</h2>
      <label>
        <input
          type="checkbox"
          checked={settings.on}
          onChange={(e) => keepSounds({ ...settings, on: e.target.checked })}
        />{' '}
        sounds are heard
      </label>
      <label style={{ display: 'flex', alignItems: 'center', gap: '0.5rem' }}>
        loudness
        <input
          type="range"
          min="0.05"
          max="1"
          step="0.05"
          value={settings.loudness}
          onChange={(e) => keepSounds({ ...settings, loudness: Number(e.target.value) })}
        />
      </label>
      <dl className="pairs">
        {(Object.keys(SOUND_WORDS) as Sound[]).map((sound) => (
          <div key={sound} style={{ display: 'contents' }}>
            <dt>{SOUND_WORDS[sound]}</dt>
            <dd className="senses">
              {(Object.keys(VOICES) as Voice[]).map((voice) => (
                <button
                  key={voice}
                  type="button"
                  className="chip"
                  aria-label={`${SOUND_WORDS[sound]}: ${VOICES[voice]}`}
                  aria-pressed={settings.voices[sound] === voice}
                  onClick={() => {
                    keepSounds({ ...settings, voices: { ...settings.voices, [sound]: voice } })
                    hear(sound)
                  }}
                >
                  {VOICES[voice]}
                </button>
              ))}
            </dd>
          </div>
        ))}
      </dl>
    </div>
  )
}
