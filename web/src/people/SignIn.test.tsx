import { fireEvent, screen, waitFor } from '@testing-library/react'
import { expect, it } from 'vitest'
import type { Schemas } from '../api/client'
import { renderServed } from '../ui/served.test-help'
import { SignIn } from './SignIn'

const person = (id: number, name: string, has_pin = false) => ({
  id,
  name,
  role: 'technician',
  has_pin,
  is_keeper: false,
})
const me = (trusted: boolean): Schemas['Me'] => ({
  person: null,
  trusted,
  people: trusted ? [person(1, 'Wren'), person(2, 'Moss', true)] : [],
  event: '',
})

it('asks a new browser for a name and a password, once', async () => {
  const { sent } = renderServed(<SignIn me={me(false)} />, {
    'POST /api/sign-in': { person: person(1, 'Wren'), trusted: true, people: [] },
  })
  fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'wren' } })
  fireEvent.change(screen.getByLabelText('Password'), { target: { value: 'a long way up' } })
  fireEvent.click(screen.getByRole('button', { name: 'Sign in' }))
  await waitFor(() =>
    expect(sent).toEqual([{ method: 'POST', path: '/api/sign-in', body: { name: 'wren', password: 'a long way up' } }]),
  )
})

it('lets a name be tapped on a trusted one, and asks for the PIN where there is one', async () => {
  const { sent } = renderServed(<SignIn me={me(true)} />, {})
  fireEvent.click(screen.getByRole('button', { name: 'Wren' }))
  await waitFor(() => expect(sent.at(-1)?.body).toEqual({ person_id: 1, pin: '' }))
  fireEvent.click(screen.getByRole('button', { name: 'Moss' }))
  fireEvent.change(screen.getByLabelText('PIN of Moss'), { target: { value: '4711' } })
  fireEvent.click(screen.getByRole('button', { name: 'Go to the bench' }))
  await waitFor(() => expect(sent.at(-1)?.body).toEqual({ person_id: 2, pin: '4711' }))
})

it('shows a refusal in its own words', async () => {
  renderServed(<SignIn me={me(true)} />, {})
  fireEvent.click(screen.getByRole('button', { name: 'Wren' }))
  expect((await screen.findByRole('alert')).textContent).toBe('no such address')
})
