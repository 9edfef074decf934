// The plot of a record: its lines, and the points that its figures came from.
import { useEffect, useRef } from 'react'
import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import type { Schemas } from '../api/client'
import { panned, zoomed, type View } from './view'

type Kept = Schemas['RecordOut']
const HEIGHT = 260
// what a mark says of the whole record is a level across the plot; the others are points
const LEVELS = ['C', 'crest', 'trough', 'up', 'down']
const NAMES: Record<string, string> = {
  C: 'C, carrier',
  crest: 'crest',
  trough: 'trough',
  up: 'peak up',
  down: 'peak down',
  spurious_worst: 'worst spurious',
}

function nameOf(mark: string): string {
  return NAMES[mark] ?? mark.replace(/^harmonic_/, '').replace(/_/g, ' ')
}

function marked(record: Kept): uPlot.Plugin {
  return {
    hooks: {
      draw: (plot) => {
        const { ctx, bbox } = plot
        const colours = getComputedStyle(plot.root)
        ctx.save()
        ctx.font = `${14 * devicePixelRatio}px 'Atkinson Hyperlegible Next Variable'`
        ctx.fillStyle = colours.getPropertyValue('--ink')
        ctx.strokeStyle = colours.getPropertyValue('--now')
        ctx.lineWidth = 1.5 * devicePixelRatio
        const named = new Set<string>()
        for (const limit of record.limits) {
          const y = plot.valToPos(limit.y, 'y', true)
          if (y < bbox.top - 1 || y > bbox.top + bbox.height + 1) continue
          const [from, to] = [limit.x_from, limit.x_to].map((x) =>
            Math.min(Math.max(plot.valToPos(x, 'x', true), bbox.left), bbox.left + bbox.width),
          )
          if (from === undefined || to === undefined || from === to) continue
          ctx.save()
          ctx.strokeStyle = ctx.fillStyle = colours.getPropertyValue('--outside')
          ctx.lineWidth = 2.5 * devicePixelRatio
          ctx.beginPath()
          ctx.moveTo(from, y)
          ctx.lineTo(to, y)
          ctx.stroke()
          ctx.textAlign = 'left'
          // strokes beside single lines, and steps of a mask, are named once: their names would lie over each other
          const short = to - from < bbox.width / 4
          const step = short ? limit.name : `${limit.name} ${limit.y}`
          if (!named.has(step))
            ctx.fillText(
              limit.name,
              from + (short ? -ctx.measureText(limit.name).width : 4 * devicePixelRatio),
              y - 5 * devicePixelRatio,
            )
          named.add(limit.name).add(step)
          ctx.restore()
        }
        let last = { end: -Infinity, below: true }
        const marks = [...record.marks].sort((a, b) => a.x - b.x)
        for (const [n, mark] of marks.entries()) {
          const y = plot.valToPos(mark.y, 'y', true)
          if (y < bbox.top - 1 || y > bbox.top + bbox.height + 1) continue
          ctx.beginPath()
          if (LEVELS.includes(mark.name)) {
            ctx.setLineDash([6 * devicePixelRatio, 5 * devicePixelRatio])
            ctx.moveTo(bbox.left, y)
            ctx.lineTo(bbox.left + bbox.width, y)
            ctx.textAlign = 'right'
            ctx.fillText(nameOf(mark.name), bbox.left + bbox.width - 4, y - 5 * devicePixelRatio)
          } else {
            const x = plot.valToPos(mark.x, 'x', true)
            if (x < bbox.left || x > bbox.left + bbox.width) continue
            ctx.setLineDash([])
            ctx.arc(x, y, 5 * devicePixelRatio, 0, 2 * Math.PI)
            ctx.textAlign = x > bbox.left + 0.8 * bbox.width ? 'right' : 'left'
            // names that would lie over each other stand above and below in turn, that of the lower point below
            const end = x + 12 * devicePixelRatio + ctx.measureText(nameOf(mark.name)).width
            const next = marks[n + 1]
            const below =
              x < last.end
                ? !last.below
                : next !== undefined && plot.valToPos(next.x, 'x', true) < end && next.y > mark.y
            last = { end, below }
            ctx.fillText(
              nameOf(mark.name),
              x + (ctx.textAlign === 'left' ? 8 : -8) * devicePixelRatio,
              y + (below ? 18 : -7) * devicePixelRatio,
            )
          }
          ctx.stroke()
        }
        ctx.restore()
      },
    },
  }
}

function inMegahertz(record: Kept): boolean {
  const first = record.lines[0]
  return record.x === 'frequency, Hz' && first !== undefined && (first.xs.at(-1) ?? 0) > 1e6
}

/** Lines with abscissae of their own, put over each other. */
function joined(record: Kept): uPlot.AlignedData {
  return uPlot.join(record.lines.map((line) => [line.xs, line.ys] as uPlot.AlignedData))
}

/** All that is drawn; of a spectrum not the deep notches of its noise. */
function rangeOf(record: Kept, low: number, high: number): [number, number] {
  if (record.kind === 'spectrum') {
    const sorted = [...(record.lines[0]?.ys ?? [])].sort((a, b) => a - b)
    low = sorted[Math.floor(0.02 * sorted.length)] ?? low
  }
  const room = 0.08 * (high - low || 1)
  return [low - room, high + room]
}

const STEP = 0.8
const KEYS: Record<string, (view: View, whole: View) => View> = {
  ArrowLeft: (view, whole) => panned(view, whole, -0.25),
  ArrowRight: (view, whole) => panned(view, whole, 0.25),
  '+': (view, whole) => zoomed(view, whole, STEP, (view[0] + view[1]) / 2),
  '-': (view, whole) => zoomed(view, whole, 1 / STEP, (view[0] + view[1]) / 2),
  '0': (_, whole) => whole,
}

/** Wheel, Shift and wheel, and keys move what is seen; returns what takes that off again. */
function movable(plot: uPlot): () => void {
  const all = plot.data[0]
  const whole: View = [all[0] ?? 0, all.at(-1) ?? 1]
  const view = (): View => [plot.scales.x?.min ?? whole[0], plot.scales.x?.max ?? whole[1]]
  const show = ([min, max]: View) => plot.setScale('x', { min, max })
  const onWheel = (event: WheelEvent) => {
    event.preventDefault()
    const turn = Math.sign(event.deltaX || event.deltaY)
    if (event.shiftKey || event.deltaX !== 0) show(panned(view(), whole, 0.1 * turn))
    else show(zoomed(view(), whole, turn > 0 ? 1 / STEP : STEP, plot.posToVal(plot.cursor.left ?? 0, 'x')))
  }
  const onKey = (event: KeyboardEvent) => {
    const move = KEYS[event.key]
    if (move === undefined || event.ctrlKey || event.metaKey || event.altKey) return
    event.preventDefault()
    event.stopPropagation()
    show(move(view(), whole))
  }
  plot.over.addEventListener('wheel', onWheel, { passive: false })
  plot.root.parentElement?.addEventListener('keydown', onKey)
  return () => {
    plot.over.removeEventListener('wheel', onWheel)
    plot.root.parentElement?.removeEventListener('keydown', onKey)
  }
}

export default function RecordPlot({ record }: { record: Kept }) {
  const box = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const host = box.current
    if (host === null) return
    const colours = getComputedStyle(host)
    const mega = inMegahertz(record)
    const axis = {
      stroke: colours.getPropertyValue('--ink'),
      grid: { stroke: colours.getPropertyValue('--hair'), width: 1 },
      ticks: { stroke: colours.getPropertyValue('--hair'), width: 1 },
      font: "14px 'Atkinson Hyperlegible Next Variable'",
      labelFont: "14px 'Atkinson Hyperlegible Next Variable'",
    }
    const plot = new uPlot(
      {
        width: host.clientWidth,
        height: HEIGHT,
        legend: { show: false },
        cursor: { drag: { x: true, y: false } },
        scales: {
          x: { time: false },
          y: {
            range: (_, low, high) =>
              rangeOf(
                record,
                Math.min(low, ...record.limits.map((l) => l.y)),
                Math.max(high, ...record.limits.map((l) => l.y)),
              ),
          },
        },
        axes: [
          {
            ...axis,
            label: mega ? 'frequency, MHz' : record.x,
            values: (_, ticks) => ticks.map((t) => String(+(mega ? t / 1e6 : t).toPrecision(7))),
          },
          {
            ...axis,
            size: 64,
            label: record.y,
            values: (_, ticks) => ticks.map((t) => String(+t.toPrecision(4)).replace('-', '−')),
          },
        ],
        series: [
          {},
          ...record.lines.map((_, n) => ({
            stroke: colours.getPropertyValue(n === 0 ? '--petrol' : '--now'),
            width: n === 0 ? 1.5 : 2,
            points: { show: false },
            spanGaps: true,
          })),
        ],
        plugins: [marked(record)],
      },
      joined(record),
      host,
    )
    const letGo = movable(plot)
    const resize = new ResizeObserver(() => plot.setSize({ width: host.clientWidth, height: HEIGHT }))
    resize.observe(host)
    return () => {
      letGo()
      resize.disconnect()
      plot.destroy()
    }
  }, [record])
  const told = record.marks.map((m) => nameOf(m.name)).join(', ')
  return (
    <>
      <div
        ref={box}
        className="plots"
        role="img"
        tabIndex={0}
        aria-label={`Plot of ${record.name}: ${record.y} against ${record.x}${told === '' ? '' : `; marked: ${told}`}${record.limits.length === 0 ? '' : `; limits of ${[...new Set(record.limits.map((l) => l.name))].join(', ')}`}`}
      />
      <p className="quiet">
        Drag or wheel to look closer, Shift and wheel to move along, + − ← → 0 by key, two taps for all. Keep it as{' '}
        <a href={`/api/records/${record.id}/plot.svg`} download>
          SVG
        </a>{' '}
        or{' '}
        <a href={`/api/records/${record.id}/plot.csv`} download>
          CSV
        </a>
        .
      </p>
    </>
  )
}
