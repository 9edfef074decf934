// What a unit may be judged as: the models of the library, and the kinds that stand in where there is none.
import type { Schemas } from '../api/client'

/** The options of a list of gear, models apart from kinds. */
export function GearOptions({ gear }: { gear: Schemas['ModelOut'][] }) {
  const groups = [
    { label: 'Models', of: gear.filter((m) => !m.generic) },
    { label: 'Kinds', of: gear.filter((m) => m.generic) },
  ]
  return groups
    .filter((g) => g.of.length > 0)
    .map((g) => (
      <optgroup key={g.label} label={g.label}>
        {g.of.map((m) => (
          <option key={m.id} value={m.id}>
            {m.title}
          </option>
        ))}
      </optgroup>
    ))
}
