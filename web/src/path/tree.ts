// A path as a tree: rows to draw, parts put in, changed and taken out. What it means for people and instruments the server says.
import type { Schemas } from '../api/client'

export type Path = Schemas['Path']
export type Part = Path['parts'][number]
export type Outlet = 'to' | 'through' | 'coupled'
export interface Row {
  part: Part
  depth: number
  /** Where the part hangs: behind which one, at which of its outlets; null is the start. */
  behind: { id: string; outlet: Outlet } | null
}

const AERIAL_SOCKET: Path['begins'] = { kind: 'aerial_socket', name: 'aerial socket', most_w: null, dc_v: 0 }

/** Outlets of a part, the main line first. */
export function outletsOf(part: Part): Outlet[] {
  if (part.kind === 'coupler') return ['through', 'coupled']
  return part.kind === 'load' ||
    part.kind === 'aerial' ||
    part.kind === 'other' ||
    part.kind === 'instrument' ||
    part.kind === 'generator'
    ? []
    : ['to']
}

const outlet = (part: Part, name: Outlet) => (part as Partial<Record<Outlet, string | null>>)[name] ?? null
const fed = (part: Part, name: Outlet, id: string | null) => ({ ...part, [name]: id }) as Part

/** Rows from the start on: a sample's branch stands right beneath its coupler, deeper than the main line. */
export function rowsOf(path: Path): Row[] {
  const byId = new Map(path.parts.map((p) => [p.id, p]))
  const rows: Row[] = []
  const visit = (id: string | null, depth: number, behind: Row['behind']) => {
    const part = id === null ? undefined : byId.get(id)
    if (part === undefined) return
    rows.push({ part, depth, behind })
    for (const name of outletsOf(part).toReversed())
      visit(outlet(part, name), name === 'coupled' ? depth + 1 : depth, { id: part.id, outlet: name })
  }
  visit(path.from, 0, null)
  return rows
}

/** Put a part in behind another (null: at the start); what hung there hangs behind the new one, if that leads on. */
export function putIn(path: Path | null, behind: Row['behind'], part: Part): Path {
  const taken = new Set(path?.parts.map((p) => p.id) ?? [])
  let id = part.id
  for (let n = 2; taken.has(id); n += 1) id = `${part.id}${n}`
  const made = { ...part, id }
  if (path === null) return { from: id, begins: AERIAL_SOCKET, parts: [made] }
  const before = behind === null ? path.from : outlet(path.parts.find((p) => p.id === behind.id) as Part, behind.outlet)
  const [main] = outletsOf(made)
  const leads = main === undefined ? made : fed(made, main, before)
  const parts = path.parts.map((p) => (behind !== null && p.id === behind.id ? fed(p, behind.outlet, id) : p))
  const next = { ...path, from: behind === null ? id : path.from, parts: [...parts, leads] }
  return main === undefined && before !== null ? reached(next) : next
}

/** Take a part out; what its main line led to moves up, a sample's branch goes with it. */
export function takeOut(path: Path, id: string): Path | null {
  const gone = path.parts.find((p) => p.id === id)
  if (gone === undefined) return path
  const [main] = outletsOf(gone)
  const behind = main === undefined ? null : outlet(gone, main)
  const parts = path.parts
    .filter((p) => p.id !== id)
    .map((p) => outletsOf(p).reduce((part, name) => (outlet(part, name) === id ? fed(part, name, behind) : part), p))
  const from = path.from === id ? behind : path.from
  return from === null ? null : reached({ ...path, from, parts })
}

/** A part with other data; what a person states is typical no more. */
export function changed(path: Path, id: string, changes: Partial<Record<string, unknown>>): Path {
  return { ...path, parts: path.parts.map((p) => (p.id === id ? ({ ...p, typical: false, ...changes } as Part) : p)) }
}

/** Only what hangs on the start. */
function reached(path: Path): Path {
  const there = new Set(rowsOf(path).map((r) => r.part.id))
  return { ...path, parts: path.parts.filter((p) => there.has(p.id)) }
}
