import { expect, test } from 'vitest'
import { neededView, viewsOf, type SideFacts } from './sideViews'

const NOTHING: SideFacts = {
  planned: false,
  tabled: false,
  comparable: false,
  settable: false,
  settingUp: false,
  tracing: false,
  finding: false,
  recorded: false,
  justRecorded: false,
  hears: false,
  talking: false,
  watched: false,
  turning: false,
  known: false,
}

test('what has nothing to say is absent', () => {
  expect(viewsOf(NOTHING)).toEqual(['trace', 'path', 'unit'])
  expect(viewsOf({ ...NOTHING, hears: true })).toContain('sound')
  expect(viewsOf({ ...NOTHING, planned: true, tabled: true, talking: true, known: true })).toEqual([
    'line',
    'tables',
    'trace',
    'live',
    'path',
    'turn',
    'watch',
    'unit',
    'known',
  ])
})

test('the bench side shows the one thing that the current line needs', () => {
  expect(neededView(NOTHING)).toBe('unit')
  expect(neededView({ ...NOTHING, planned: true })).toBe('line')
  expect(neededView({ ...NOTHING, planned: true, tracing: true })).toBe('line')
  expect(neededView({ ...NOTHING, planned: true, tracing: true, finding: true })).toBe('trace')
  expect(neededView({ ...NOTHING, planned: true, justRecorded: true })).toBe('records')
  expect(neededView({ ...NOTHING, turning: true, justRecorded: true })).toBe('turn')
})
