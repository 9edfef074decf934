const KEYS: readonly (readonly [string, string])[] = [
  ['.', 'go to the field'],
  ['Enter', 'take what is typed; with nothing typed, the next open line'],
  ['Space', 'take what is typed, from anywhere'],
  ['Tab', 'while typing: the next sense of the same text'],
  ['Backspace', 'with nothing typed: take the last line back'],
  ['↑ ↓', 'with nothing typed: choose another open line'],
  ['=', 'sums'],
  ['/', 'find a job'],
  ['?', 'these keys'],
]

export function Keys() {
  return (
    <div className="sums">
      <h2 id="keys-title">Keys</h2>
      <p className="quiet">They act whenever no text is being typed.</p>
      <dl className="pairs">
        {KEYS.map(([key, does]) => (
          <div key={key} style={{ display: 'contents' }}>
            <dt>
              <b>{key}</b>
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </div>
  )
}
