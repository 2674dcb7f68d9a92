import type { Schemas } from '../api/client'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'

type Drive = Schemas['HandoverDrive']

const width = 700
const left = 34
const row = 40
const head = 34

/** The windows of a drive, when one is at each door, and when on the road. The list of stops tells the same. */
export function DriveTimes({ drive }: { drive: Drive }) {
  const { clock } = useKitchen()
  const from = Math.floor(Math.min(drive.leave, ...drive.drops.map((d) => d.from)) / 60) * 60
  const to = Math.ceil(Math.max(drive.back, ...drive.drops.map((d) => Math.max(d.to, d.go))) / 60) * 60
  const x = (minute: number) => left + ((minute - from) / (to - from)) * (width - left - 12)
  const each = Math.max(1, Math.ceil((to - from) / 60 / 9))
  const hours = Array.from({ length: (to - from) / 60 + 1 }, (_, i) => from + i * 60).filter((_, i) => i % each === 0)
  const height = head + drive.drops.length * row + 26
  const road = drive.drops.map((d, i) => ({ from: i === 0 ? drive.leave : drive.drops[i - 1]!.go, to: d.arrive }))
  road.push({ from: drive.drops.at(-1)!.go, to: drive.back })
  let n = 0
  return (
    <svg className="drive-times" viewBox={`0 0 ${width} ${height}`} role="img" aria-label={words.windows}>
      {hours.map((h) => (
        <g key={h}>
          <path d={`M${x(h)} ${head - 6}V${height - 8}`} className="hour-line" />
          <text x={x(h)} y="18" textAnchor={h === from ? 'start' : h === to ? 'end' : 'middle'}>
            {clock(h % 1440)}
          </text>
        </g>
      ))}
      {drive.drops.map((d, i) => (
        <g key={d.order} transform={`translate(0 ${head + i * row})`}>
          <text x="10" y="21" className="times-n">
            {d.atHome ? '⌂' : ++n}
          </text>
          <rect x={x(d.from)} y="5" width={Math.max(x(d.to) - x(d.from), 3)} height="22" rx="5" className="window" />
          {d.from > d.arrive && (
            <rect x={x(d.arrive)} y="13" width={x(d.from) - x(d.arrive)} height="6" className="waits-there" />
          )}
          <rect
            x={x(Math.max(d.arrive, d.from))}
            y="5"
            width={Math.max(x(d.go) - x(Math.max(d.arrive, d.from)), 4)}
            height="22"
            rx="5"
            className={d.late > 0 ? 'there late' : 'there'}
          />
        </g>
      ))}
      {road.map((r, i) => (
        <rect
          key={i}
          x={x(r.from)}
          y={height - 22}
          width={Math.max(x(r.to) - x(r.from), 2)}
          height="8"
          rx="4"
          className="on-road"
        />
      ))}
    </svg>
  )
}
