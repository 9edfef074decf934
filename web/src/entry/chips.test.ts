import { describe, expect, it } from 'vitest'
import { NO_CHIPS, setByHand, shownChip, withChip, type Conditions } from './chips'

const at = (conditions: Partial<Conditions>) => conditions as Conditions
const power = {
  row: 'power-am-19',
  quantity: 'carrier_power',
  conditions: at({ mode: 'am', channel: 19, supply_v: 13.2, multiplier: 1, pad_db: 0 }),
}
const frequency = { row: 'frequency-19', quantity: 'frequency_error', conditions: at({ mode: 'am', channel: 19 }) }

describe('the chips', () => {
  it('are what the hand set; the point of measurement is that of the current line', () => {
    const chips = withChip(withChip(NO_CHIPS, 'pad_db', 20, power), 'mode', 'fm', null)
    expect(setByHand(chips, power)).toEqual({ pad_db: 20 })
    expect(shownChip('mode', setByHand(chips, power), power)).toBe('am')
    expect(shownChip('pad_db', setByHand(chips, power), power)).toBe(20)
    expect(setByHand(chips, null)).toEqual({ pad_db: 20, mode: 'fm' })
  })
  it('change the point for this line only', () => {
    const chips = withChip(NO_CHIPS, 'channel', 40, power)
    expect(setByHand(chips, power)).toEqual({ channel: 40, frequency_hz: null })
    expect(shownChip('mode', setByHand(chips, power), power)).toBe('am')
    expect(setByHand(chips, frequency)).toEqual({})
    expect(shownChip('channel', setByHand(chips, frequency), frequency)).toBe(19)
  })
  it('remember the instrument of each quantity', () => {
    const chips = withChip(
      withChip(NO_CHIPS, 'instrument', 'bench-wattmeter', power),
      'instrument',
      'bench-counter',
      frequency,
    )
    expect(setByHand(chips, power).instrument).toBe('bench-wattmeter')
    expect(setByHand(chips, frequency).instrument).toBe('bench-counter')
    expect(setByHand(withChip(chips, 'instrument', null, power), power).instrument).toBeUndefined()
  })
})
