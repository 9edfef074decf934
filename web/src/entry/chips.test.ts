import { describe, expect, it } from 'vitest'
import { conditionsNow, NO_CHIPS, withChip, type Conditions } from './chips'

const at = (conditions: Partial<Conditions>) => conditions as Conditions
const power = {
  row: 'power-am-19',
  quantity: 'carrier_power',
  conditions: at({ mode: 'am', channel: 19, supply_v: 13.2, multiplier: 1, pad_db: 0 }),
}
const frequency = { row: 'frequency-19', quantity: 'frequency_error', conditions: at({ mode: 'am', channel: 19 }) }

describe('the chips', () => {
  it('take the point of measurement from the current line and the rest from the hand', () => {
    const chips = withChip(withChip(NO_CHIPS, 'pad_db', 20, power), 'mode', 'fm', null)
    expect(conditionsNow(chips, power)).toEqual({ pad_db: 20, mode: 'am', channel: 19, supply_v: 13.2 })
    expect(conditionsNow(chips, null)).toEqual({ pad_db: 20, mode: 'fm' })
  })
  it('change the point for this line only', () => {
    const chips = withChip(NO_CHIPS, 'channel', 40, power)
    expect(conditionsNow(chips, power)).toMatchObject({ channel: 40, frequency_hz: null, mode: 'am' })
    expect(conditionsNow(chips, frequency)).toMatchObject({ channel: 19 })
  })
  it('remember the instrument of each quantity', () => {
    const chips = withChip(
      withChip(NO_CHIPS, 'instrument', 'bench-wattmeter', power),
      'instrument',
      'bench-counter',
      frequency,
    )
    expect(conditionsNow(chips, power).instrument).toBe('bench-wattmeter')
    expect(conditionsNow(chips, frequency).instrument).toBe('bench-counter')
    expect(conditionsNow(withChip(chips, 'instrument', null, power), power).instrument).toBeUndefined()
  })
})
