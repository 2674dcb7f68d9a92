import { useEffect, useRef } from 'react'
import type uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import { useKitchen } from '../shell/kitchen'
import { type Deed, type Pot, scalesOf } from './pot'
import { words } from './words'

const ink = '#2b1a12'
const soft = '#6b574c'
const zest = '#c8500a'
const leaf = '#2f6b4f'
const berry = '#a3213f'
const font = '15px "Atkinson Hyperlegible Next Variable", system-ui, sans-serif'

/** Deeds that stand on the curve, with as much as there is room for. */
const markOf = (what: Deed['what']) =>
  what === 'seeded'
    ? words.did.seed
    : what === 'on' || what === 'off' || what === 'chill' || what === 'smear' || what === 'anew'
      ? words.did[what]
      : undefined

/** The temperature of a bowl as it goes, with the band to be in, what not to go above, and what is to come. */
export function Curve({ p }: { p: Pot }) {
  const { temp, inUnit, degree } = scalesOf(useKitchen())
  const frame = useRef<HTMLDivElement>(null)
  const plot = useRef<uPlot>(undefined)
  const shown = useRef(p)
  useEffect(() => {
    shown.current = p
    plot.current?.setData(dataOf(p, inUnit))
  })
  const over = Boolean(p.ended)
  useEffect(() => {
    const box = frame.current
    if (!box) return
    let left = false
    const size = new ResizeObserver(() =>
      plot.current?.setSize({ width: box.clientWidth, height: Math.max(box.clientHeight, 160) }),
    )
    void import('uplot').then(({ default: Plotter }) => {
      if (left) return
      const range = (): [number, number] => {
        const { curve, advice, room } = shown.current
        const values = curve.temps.map((x) => x.value)
        const high = Math.max(...values, advice?.never ?? 0, advice?.aim.to ?? 0, room + 5) + 3
        return [inUnit(Math.min(...values, room, advice?.aim.from ?? room) - 2), inUnit(high)]
      }
      plot.current = new Plotter(
        {
          width: box.clientWidth,
          height: Math.max(box.clientHeight, 160),
          legend: { show: false },
          cursor: { show: false },
          scales: {
            x: { time: false, range: () => [0, Math.max(shown.current.now / 60 + (over ? 0.2 : 4), over ? 1 : 8)] },
            y: { range },
          },
          axes: [
            {
              font,
              stroke: soft,
              grid: { show: false },
              ticks: { show: false },
              values: (_, at) => at.map((m) => `${m} ${words.time}`),
              space: 90,
            },
            {
              font,
              stroke: soft,
              size: 58,
              grid: { stroke: '#efe7da', width: 1 },
              ticks: { show: false },
              values: (_, at) => at.map((t) => `${t}${degree[0]}`),
            },
          ],
          series: [{}, { stroke: ink, width: 3, points: { show: false }, spanGaps: true }],
          hooks: {
            drawAxes: [(u: uPlot) => under(u, shown.current, inUnit, temp, degree)],
            draw: [(u: uPlot) => above(u, shown.current, inUnit)],
          },
        },
        dataOf(shown.current, inUnit),
        box,
      )
      size.observe(box)
    })
    return () => {
      left = true
      size.disconnect()
      plot.current?.destroy()
      plot.current = undefined
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- drawn anew only for another scale
  }, [degree, over])
  const last = p.curve.temps.at(-1)
  return (
    <div
      ref={frame}
      className="pot-curve"
      role="img"
      aria-label={words.curve(p.name) + (last ? `: ${temp(last.value)} ${degree}` : '')}
    />
  )
}

const dataOf = (p: Pot, inUnit: (c: number) => number): uPlot.AlignedData => [
  p.curve.temps.map((x) => x.at / 60),
  p.curve.temps.map((x) => inUnit(x.value)),
]

/** What lies under the curve: the band, the line not to cross, and what was done. */
function under(
  u: uPlot,
  p: Pot,
  inUnit: (c: number) => number,
  temp: (c: number, digits?: number) => string,
  degree: string,
) {
  const { ctx, bbox } = u
  const y = (c: number) => u.valToPos(inUnit(c), 'y', true)
  const right = bbox.left + bbox.width
  ctx.save()
  ctx.font = `${15 * devicePixelRatio}px "Atkinson Hyperlegible Next Variable", sans-serif`
  ctx.textAlign = 'right'
  const a = p.advice
  if (a) {
    ctx.fillStyle = 'rgba(47, 107, 79, 0.24)'
    ctx.fillRect(bbox.left, y(a.aim.to), bbox.width, Math.max(y(a.aim.from) - y(a.aim.to), 3))
    ctx.fillStyle = leaf
    ctx.fillText(
      words.workAt(`${temp(a.aim.from, 0)}–${temp(a.aim.to, 0)} ${degree}`),
      right - 6,
      y(a.aim.from) + 18 * devicePixelRatio,
    )
    ctx.strokeStyle = berry
    ctx.setLineDash([8, 6])
    ctx.lineWidth = 1.5 * devicePixelRatio
    ctx.beginPath()
    ctx.moveTo(bbox.left, y(a.never))
    ctx.lineTo(right, y(a.never))
    ctx.stroke()
    ctx.fillStyle = berry
    ctx.fillText(words.neverAbove(`${temp(a.never, 0)} ${degree}`), right - 6, y(a.never) - 10)
  }
  ctx.textAlign = 'left'
  ctx.strokeStyle = '#d9c6a8'
  ctx.fillStyle = soft
  ctx.lineWidth = 1.5 * devicePixelRatio
  ctx.setLineDash([2, 5])
  const began = Date.parse(p.began)
  let free = -Infinity // up to where names reach already
  for (const d of p.deeds) {
    const label = markOf(d.what)
    if (!label) continue
    const x = u.valToPos((Date.parse(d.at!) - began) / 60_000, 'x', true)
    ctx.beginPath()
    ctx.moveTo(x, bbox.top)
    ctx.lineTo(x, bbox.top + bbox.height)
    ctx.stroke()
    if (x + 4 < free) continue
    ctx.fillText(label, x + 4, bbox.top + 14 * devicePixelRatio)
    free = x + 10 + ctx.measureText(label).width
  }
  ctx.restore()
}

/** What lies above it: where it is now, and where it goes with its spread. */
function above(u: uPlot, p: Pot, inUnit: (c: number) => number) {
  const last = p.curve.temps.at(-1)
  if (!last || p.ended) return
  const { ctx } = u
  const x = (s: number) => u.valToPos(s / 60, 'x', true)
  const y = (c: number) => u.valToPos(inUnit(c), 'y', true)
  ctx.save()
  const due = p.advice?.due
  if (due) {
    // Towards the edge that it will cross, between the earliest and the latest time.
    const rises = last.value < p.advice!.aim.from
    const aim = rises ? p.advice!.aim.from : last.value > p.advice!.aim.to ? p.advice!.aim.to : p.advice!.aim.from
    ctx.fillStyle = 'rgba(200, 80, 10, 0.22)'
    ctx.beginPath()
    ctx.moveTo(x(last.at), y(last.value))
    ctx.lineTo(x(due.from), y(aim))
    ctx.lineTo(x(due.to), y(aim))
    ctx.closePath()
    ctx.fill()
  }
  ctx.fillStyle = zest
  ctx.beginPath()
  ctx.arc(x(last.at), y(last.value), 7 * devicePixelRatio, 0, 2 * Math.PI)
  ctx.fill()
  ctx.restore()
}
