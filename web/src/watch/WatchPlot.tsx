// The log of a watch, one strip a value under one clock; drops and what the hands did as strokes through all of them.
import { useEffect, useRef } from 'react'
import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import type { Schemas } from '../api/client'

type Watch = Schemas['WatchOut']
const HEIGHT = 150

function strokes(watch: Watch): uPlot.Plugin {
  const draw = (plot: uPlot, at: number, colour: string, dash: number[]) => {
    const x = plot.valToPos(at, 'x', true)
    if (x < plot.bbox.left || x > plot.bbox.left + plot.bbox.width) return
    plot.ctx.strokeStyle = colour
    plot.ctx.setLineDash(dash)
    plot.ctx.beginPath()
    plot.ctx.moveTo(x, plot.bbox.top)
    plot.ctx.lineTo(x, plot.bbox.top + plot.bbox.height)
    plot.ctx.stroke()
  }
  return {
    hooks: {
      draw: (plot) => {
        const colours = getComputedStyle(plot.root)
        plot.ctx.save()
        plot.ctx.lineWidth = 2 * devicePixelRatio
        for (const mark of watch.marks) draw(plot, mark.at, colours.getPropertyValue('--spark'), [4, 6])
        for (const drop of watch.drops) draw(plot, drop.at, colours.getPropertyValue('--outside'), [])
        plot.ctx.restore()
      },
    },
  }
}

function scaled(series: Watch['series'][number]): { factor: number; unit: string } {
  if (series.name === 'frequency') return { factor: 1e-6, unit: 'MHz' }
  return { factor: 1, unit: series.unit }
}

/** Decimals that tell the ticks of an axis in MHz from each other: whole tens of Hz, finer where they lie closer. */
function placesOf(ticks: readonly number[]): number {
  const step = (ticks[1] ?? 0) - (ticks[0] ?? 0)
  return step > 0 ? Math.min(7, Math.max(5, Math.ceil(-Math.log10(step) - 1e-6))) : 5
}

export default function WatchPlot({ watch }: { watch: Watch }) {
  const box = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const host = box.current
    if (host === null) return
    const colours = getComputedStyle(host)
    const ink = colours.getPropertyValue('--ink')
    const hair = colours.getPropertyValue('--hair')
    const latest = Math.max(10, watch.seconds)
    const axis = {
      stroke: ink,
      grid: { stroke: hair, width: 1 },
      ticks: { stroke: hair, width: 1 },
      font: "14px 'Atkinson Hyperlegible Next Variable'",
    }
    const order = ['power', 'amps', 'frequency']
    const plots = [...watch.series]
      .sort((a, b) => order.indexOf(a.name) - order.indexOf(b.name))
      .map((series) => {
        const { factor, unit } = scaled(series)
        return new uPlot(
          {
            title: `${series.title}, ${unit}`,
            width: host.clientWidth,
            height: HEIGHT,
            legend: { show: false },
            cursor: { sync: { key: watch.id }, drag: { x: true, y: false } },
            scales: { x: { time: false } },
            axes: [
              {
                ...axis,
                values: (_, ticks) =>
                  ticks.map((t) => (latest > 300 ? `${+(t / 60).toFixed(1)} min` : `${+t.toFixed(1)} s`)),
              },
              {
                ...axis,
                size: 84,
                values: (_, ticks) =>
                  ticks.map((t) => (series.name === 'frequency' ? t.toFixed(placesOf(ticks)) : String(+t.toFixed(3)))),
              },
            ],
            series: [
              {},
              {
                stroke: colours.getPropertyValue('--petrol'),
                width: 2,
                points: { show: series.at.length < 60, size: 4 },
              },
            ],
            plugins: [strokes(watch)],
          },
          // from the first second to the last in every strip, so that they stand under one clock
          [
            [0, ...series.at, latest],
            [null, ...series.values.map((v) => v * factor), null],
          ],
          host,
        )
      })
    const resize = new ResizeObserver(() =>
      plots.forEach((plot) => plot.setSize({ width: host.clientWidth, height: HEIGHT })),
    )
    resize.observe(host)
    return () => {
      resize.disconnect()
      plots.forEach((plot) => plot.destroy())
    }
  }, [watch])
  return (
    <>
      <div
        ref={box}
        className="plots"
        role="img"
        aria-label={`Plot of ${watch.series.map((s) => s.title.toLowerCase()).join(', ')}: ${watch.summary}`}
      />
      {watch.series.length > 0 && (
        <p className="quiet">
          Whole strokes: drops. Broken strokes: what the hands did. Drag along to look closer, tap twice to see all.
        </p>
      )}
    </>
  )
}
