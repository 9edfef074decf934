import { describe, expect, it } from 'vitest'
import { putIn, rowsOf, takeOut, type Part, type Path } from './tree'

const part = (id: string, kind: string, rest: object = {}) =>
  ({ id, name: id, kind, typical: true, ...rest }) as unknown as Part
const drawn = (path: Path | null) =>
  path === null
    ? ''
    : rowsOf(path)
        .map((r) => '>'.repeat(r.depth) + r.part.id)
        .join(' ')

describe('a path as a tree', () => {
  const line = putIn(putIn(null, null, part('meter', 'wattmeter')), { id: 'meter', outlet: 'to' }, part('load', 'load'))

  it('grows behind a part, and what hung there hangs behind the new one', () => {
    expect(drawn(line)).toBe('meter load')
    expect(drawn(putIn(line, null, part('cable', 'cable')))).toBe('cable meter load')
    expect(drawn(putIn(line, { id: 'meter', outlet: 'to' }, part('meter', 'cable')))).toBe('meter meter2 load')
  })

  it('draws a sample beneath its coupler, and drops it with the coupler', () => {
    const sampled = putIn(
      putIn(line, { id: 'meter', outlet: 'to' }, part('coupler', 'coupler')),
      { id: 'coupler', outlet: 'coupled' },
      part('analyser', 'instrument'),
    )
    expect(drawn(sampled)).toBe('meter coupler >analyser load')
    expect(drawn(takeOut(sampled, 'coupler'))).toBe('meter load')
    expect(drawn(takeOut(sampled, 'analyser'))).toBe('meter coupler load')
  })

  it('an end put in where the line went on cuts it off there', () => {
    expect(drawn(putIn(line, { id: 'meter', outlet: 'to' }, part('aerial', 'aerial')))).toBe('meter aerial')
    expect(takeOut(takeOut(line, 'meter') as Path, 'load')).toBeNull()
  })
})
