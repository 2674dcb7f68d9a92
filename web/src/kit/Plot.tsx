import { useEffect, useMemo, useRef, useState } from 'react'
import type uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import './plot.css'

/** Numbers along the ticks of a plot; null where there is none. */
export interface Series {
  name: string
  colour: string
  values: (number | null)[]
}

/** Colours that are told from each other beside each other, also in grey by the white between them. */
export const colours = ['#452818', '#c8500a', '#2c6e8f', '#b98a2f', '#a3213f', '#8f7fb0', '#5f7a45', '#8a5733']

interface Props {
  label: string // what it shows, for whoever does not see it; the same numbers stand in a table beside it
  ticks: string[]
  stack?: Series[] // bars on each other, the first at the foot
  marks?: Series[] // points
  lines?: Series[]
  band?: { name: string; low: number; high: number } // between two values, all along
  show: (n: number) => string
  steps?: number[] // that its grid may have; without them ten, a hundred, ... and their halves
  height?: number
  least?: number // where its scale begins; 0 where it is not given
}

const paper = '#fffdf8'
const ink = '#6b574c'
const bandInk = '#2f6b4f'
const margin = 70 // px, of the scale at the side
const narrowest = 60 // px, of a tick with its name
const letter = 7.4 // px
const cut = (name: string, letters: number) => (name.length > letters ? `${name.slice(0, letters - 1)}…` : name)
const font = '13px "Atkinson Hyperlegible Next Variable", system-ui, sans-serif'

/** A plot over a few ticks: bars on each other, points, lines and a band, drawn by uPlot, which is loaded for it. */
export function Plot({
  label,
  ticks,
  stack = [],
  marks = [],
  lines = [],
  band,
  show,
  steps,
  height = 230,
  least = 0,
}: Props) {
  const frame = useRef<HTMLDivElement>(null)
  const [at, setAt] = useState<number>()
  // Drawn anew when what it shows changes, not with every render around it.
  const shown = JSON.stringify([ticks, stack, marks, lines, band, least])
  const options = useMemo(
    () => optionsOf({ ticks, stack, marks, lines, band, show, steps, least }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- shown is all that the others hold
    [shown],
  )
  useEffect(() => {
    const box = frame.current
    if (!box) return
    let plot: uPlot | undefined
    let left = false
    const size = new ResizeObserver(() => plot?.setSize({ width: box.clientWidth, height }))
    void import('uplot').then(({ default: Plotter }) => {
      if (left) return
      plot = new Plotter(
        {
          ...options.of(Plotter),
          width: box.clientWidth,
          height,
          hooks: { setCursor: [(u: uPlot) => setAt(u.cursor.idx ?? undefined)] },
        },
        options.data,
        box,
      )
      size.observe(box)
    })
    return () => {
      left = true
      size.disconnect()
      plot?.destroy()
    }
  }, [options, height])
  const names = [...stack.toReversed(), ...marks, ...lines].filter((s) => s.values.some((v) => v))
  return (
    <div className="plot">
      <div ref={frame} role="img" aria-label={label} style={{ minHeight: height }} />
      <p className="plot-key" aria-hidden="true">
        {at !== undefined && <b>{ticks[at]}</b>}
        {names.map((s) => (
          <span key={s.name}>
            <i
              className={marks.includes(s) ? 'dot' : lines.includes(s) ? 'stroke' : ''}
              style={{ background: s.colour }}
            />
            {s.name}
            {at !== undefined && s.values[at] !== null && <b> {show(s.values[at] ?? 0)}</b>}
          </span>
        ))}
        {band && (
          <span>
            <i className="band" /> {band.name}
          </span>
        )}
      </p>
    </div>
  )
}

/** What uPlot is told. Bars stand on each other: each is drawn from the ground up, the tallest first. */
function optionsOf({
  ticks,
  stack = [],
  marks = [],
  lines = [],
  band,
  show,
  steps,
  least = 0,
}: Omit<Props, 'label' | 'height'>) {
  const reach = ticks.map(() => 0)
  const piled = stack.map((s) => s.values.map((v, i) => (reach[i] = (reach[i] ?? 0) + Math.max(v ?? 0, 0)) || null))
  const edges = band ? [ticks.map(() => band.high), ticks.map(() => band.low)] : []
  const data = [ticks.map((_, i) => i), ...edges, ...piled.toReversed(), ...marks, ...lines].map((s) =>
    Array.isArray(s) ? s : s.values,
  ) as uPlot.AlignedData
  const highest = Math.max(1e-9, ...data.slice(1).flatMap((s) => [...s].map((v) => v ?? 0)))
  const edge = { stroke: bandInk, width: 1, dash: [4, 4], points: { show: false } }
  return {
    data,
    of: (Plotter: typeof uPlot): Omit<uPlot.Options, 'width' | 'height'> => ({
      legend: { show: false },
      cursor: { y: false, drag: { x: false, y: false }, points: { show: false } },
      scales: {
        x: { time: false, range: [-0.6, ticks.length - 0.4] },
        y: { range: [least, least + (highest - least) * 1.08] },
      },
      axes: [
        {
          font,
          stroke: ink,
          grid: { show: false },
          ticks: { show: false },
          // As many names as have room, each as long as there is room for it.
          splits: (u) => {
            const each = Math.ceil((ticks.length * narrowest) / Math.max(u.width - margin, narrowest))
            return ticks.map((_, i) => i).filter((i) => i % each === 0)
          },
          values: (u, at) => {
            const letters = Math.floor((u.width - margin) / Math.max(at.length, 1) / letter)
            return at.map((i) => cut(ticks[i] ?? '', letters))
          },
        },
        {
          font,
          stroke: ink,
          size: margin,
          grid: { stroke: '#efe2cb', width: 1 },
          ticks: { show: false },
          values: (_, at) => at.map(show),
          ...(steps && { incrs: steps }),
        },
      ],
      series: [
        {},
        ...(band ? [edge, edge] : []),
        ...stack.toReversed().map((s) => ({
          label: s.name,
          fill: s.colour,
          stroke: paper,
          width: 1,
          points: { show: false },
          paths: Plotter.paths.bars!({ size: [0.62, 54] }),
        })),
        ...marks.map((s) => ({
          label: s.name,
          stroke: s.colour,
          paths: () => null,
          points: { show: true, size: 9, width: 2, stroke: paper, fill: s.colour },
        })),
        ...lines.map((s) => ({
          label: s.name,
          stroke: s.colour,
          width: 2.5,
          spanGaps: true,
          points: { show: true, size: 7, fill: s.colour, stroke: paper },
        })),
      ],
      bands: band ? [{ series: [1, 2], fill: 'rgba(47, 107, 79, 0.13)' }] : [],
    }),
  }
}
