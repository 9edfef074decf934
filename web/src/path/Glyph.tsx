// Plain circuit symbols, drawn on the line of the path.
const SHAPES: Record<string, string> = {
  cable: 'M20 2v36M14 10c0-4 12-4 12 0v20c0 4-12 4-12 0z',
  adaptor: 'M20 2v12M14 14h12v12H14zM20 26v12',
  attenuator: 'M20 2v5l-6 3 12 5-12 5 12 5-12 5 6 3v5',
  filter: 'M20 2v8M12 10h16v20H12zM14 24c4 0 4-8 6-8s2 8 6 8M20 30v8',
  dc_block: 'M20 2v15M11 17h18M11 23h18M20 23v15',
  wattmeter: 'M20 2v6M20 8a12 12 0 1 0 .1 0M20 32v6M14 26l10-12',
  coupler: 'M20 2v36M28 34V16l7-8',
  probe: 'M20 2v36M20 20l14-8',
  load: 'M20 2v6M14 8h12v20H14zM20 28v4M12 32h16M16 36h8',
  aerial: 'M20 38V8M8 2l12 12L32 2',
  other: 'M20 2v16M12 18h16M12 26h16',
  instrument: 'M20 2v6M8 8h24v24H8zM12 24c4-12 6 6 8-2s4-4 8 0',
  generator: 'M20 2v6M20 8a12 12 0 1 0 .1 0M13 20c3-8 5-2 7 0s4 8 7 0',
}

export function Glyph({ kind }: { kind: string }) {
  return (
    <svg viewBox="0 0 40 40" width="40" height="40" aria-hidden="true">
      <path d={SHAPES[kind] ?? SHAPES.other} fill="none" stroke="currentColor" strokeWidth="2" />
    </svg>
  )
}
