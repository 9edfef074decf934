import { render, screen } from '@testing-library/react'
import { expect, it } from 'vitest'
import { Verdict, VERDICT_TEXT, type VerdictKey } from './verdict'

const all = Object.keys(VERDICT_TEXT) as VerdictKey[]

it.each(all)('shows %s by word and by a shape of its own', (verdict) => {
  const { container } = render(<Verdict verdict={verdict} />)
  expect(screen.getByText(VERDICT_TEXT[verdict])).toBeTruthy()
  expect(container.querySelector('[data-verdict]')?.getAttribute('data-verdict')).toBe(verdict)
})

it('has five shapes, no two alike', () => {
  const shapes = all.map((verdict) => render(<Verdict verdict={verdict} />).container.querySelector('svg')?.innerHTML)
  expect(new Set(shapes).size).toBe(5)
})
