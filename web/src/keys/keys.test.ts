import { beforeEach, expect, it } from 'vitest'
import { actionOf, keepKeys, reassigned, type KeySettings } from './keys'

const fresh = (): KeySettings => ({
  on: true,
  keys: {
    take: ' ',
    next: 'Enter',
    previous: 'ArrowUp',
    back: 'Backspace',
    far: 'F2',
    whole: 'F4',
    key: 'F8',
    field: '.',
    sums: '=',
    find: '/',
    keys: '?',
  },
})

beforeEach(() => keepKeys(fresh()))

it('knows its keys and no others', () => {
  expect([actionOf(' '), actionOf('='), actionOf('ArrowDown'), actionOf('x')]).toEqual(['take', 'sums', 'next', null])
})

it('lets a foot switch be "take", and no key is lost or shared', () => {
  const swapped = reassigned(reassigned(fresh(), 'take', 'F13'), 'sums', '/')
  keepKeys(swapped)
  expect([actionOf('F13'), actionOf(' '), actionOf('/'), actionOf('=')]).toEqual(['take', null, 'sums', 'find'])
  expect(new Set(Object.values(swapped.keys)).size).toBe(Object.keys(swapped.keys).length)
})

it('means nothing when keys are off, and is remembered', () => {
  keepKeys({ ...fresh(), on: false })
  expect(actionOf(' ')).toBeNull()
  expect(JSON.parse(localStorage.getItem('keys') ?? '')).toMatchObject({ on: false })
})
