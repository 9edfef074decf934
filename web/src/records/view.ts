// What of a plot is seen: pure arithmetic on the ends of its axis.
export type View = readonly [number, number]

const NARROWEST = 1e-4 // of the whole

/** Closer or wider about a place that stays where it is; never beyond the whole. */
export function zoomed(view: View, whole: View, factor: number, about: number): View {
  const width = Math.min(Math.max((view[1] - view[0]) * factor, (whole[1] - whole[0]) * NARROWEST), whole[1] - whole[0])
  const share = view[1] > view[0] ? (about - view[0]) / (view[1] - view[0]) : 0.5
  return inside([about - share * width, about + (1 - share) * width], whole)
}

/** Along by a share of what is seen; it stops at the ends. */
export function panned(view: View, whole: View, share: number): View {
  const by = share * (view[1] - view[0])
  return inside([view[0] + by, view[1] + by], whole)
}

function inside([from, to]: View, whole: View): View {
  const width = to - from
  const start = Math.min(Math.max(from, whole[0]), Math.max(whole[0], whole[1] - width))
  return [start, start + width]
}
