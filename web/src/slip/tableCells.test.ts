import { expect, test } from 'vitest'
import type { Schemas } from '../api/client'
import { beginningOf, neighbour } from './tableCells'

const column = (name: string, begins: string | null) => ({
  name,
  unit: 'W',
  worked_out: begins === null ? 'sum' : '',
  begins,
})
const row = (where: string) => ({ where, at: null, begins: `${where} `, cells: [] })
const bands: Schemas['Table'] = {
  id: 'bands',
  title: 'Over bands',
  axis: 'bands',
  columns: [column('Carrier power', 'carrier power '), column('Gain', null), column('SWR', 'swr ')],
  rows: [row('7.1 MHz'), row('14.2 MHz')],
  verdict: null,
  says: [],
}
const at = (where: string, name: string) => ({ table: 'bands', row: where, column: name })

test('a cell begins with the words of its row and column, and what is worked out is not typed', () => {
  expect(beginningOf([bands], at('14.2 MHz', 'SWR'))).toBe('14.2 MHz swr ')
  expect(beginningOf([bands], at('14.2 MHz', 'Gain'))).toBeNull()
  expect(beginningOf([bands], at('21 MHz', 'SWR'))).toBeNull()
})

test('along goes over the row and on to the next one, past what is worked out', () => {
  const first = at('7.1 MHz', 'Carrier power')
  const walked = [first]
  for (let here = neighbour([bands], first, 'along', 1); here !== null; here = neighbour([bands], here, 'along', 1))
    walked.push(here)
  expect(walked.map((c) => `${c.row} ${c.column}`)).toEqual([
    '7.1 MHz Carrier power',
    '7.1 MHz SWR',
    '14.2 MHz Carrier power',
    '14.2 MHz SWR',
  ])
  expect(neighbour([bands], first, 'along', -1)).toBeNull()
})

test('down stays in its column and ends with it', () => {
  expect(neighbour([bands], at('7.1 MHz', 'SWR'), 'down', 1)).toEqual(at('14.2 MHz', 'SWR'))
  expect(neighbour([bands], at('14.2 MHz', 'SWR'), 'down', 1)).toBeNull()
  expect(neighbour([bands], at('14.2 MHz', 'SWR'), 'down', -1)).toEqual(at('7.1 MHz', 'SWR'))
})
