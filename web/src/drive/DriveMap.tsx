import type { Schemas } from '../api/client'
import { words } from './words'

type Position = Schemas['RoadsPosition']
type Drive = Schemas['HandoverDrive']

const width = 700
const height = 430
const margin = 46

/** The roads, the way, and where its stops are: as large as it all has room. */
export function DriveMap({ drive, home, map }: { drive: Drive; home?: Position; map?: Schemas['HandoverRoadMap'] }) {
  const stops = drive.drops.filter((d) => d.at && !d.atHome)
  const seen = [...drive.ways.flat(), ...stops.map((d) => d.at!), ...(home ? [home] : [])]
  if (seen.length === 0) return null
  const lats = seen.map((p) => p.lat)
  const lons = seen.map((p) => p.lon)
  const middle = { lat: (Math.min(...lats) + Math.max(...lats)) / 2, lon: (Math.min(...lons) + Math.max(...lons)) / 2 }
  const narrow = Math.cos((middle.lat * Math.PI) / 180) // a degree of longitude, of one of latitude
  const scale = Math.min(
    (width - 2 * margin) / Math.max((Math.max(...lons) - Math.min(...lons)) * narrow, 0.004),
    (height - 2 * margin) / Math.max(Math.max(...lats) - Math.min(...lats), 0.004),
  )
  const x = (p: Position) => width / 2 + (p.lon - middle.lon) * narrow * scale
  const y = (p: Position) => height / 2 - (p.lat - middle.lat) * scale
  const line = (list: Position[]) =>
    list.map((p, i) => `${i ? 'L' : 'M'}${x(p).toFixed(1)} ${y(p).toFixed(1)}`).join('')
  let n = 0
  const numbered = drive.drops.map((d) => ({ ...d, n: d.atHome ? 0 : ++n }))
  return (
    <svg
      className="drive-map"
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`${words.mapLabel}. ${words.mapList(stops.map((d) => d.customer).join(', '))}`}
    >
      <rect width={width} height={height} className="land" />
      {map && map.water.length > 0 && <path d={`${line(map.water)}Z`} className="water" />}
      {map?.streets.map((s) => (
        <path key={s.name} d={line(s.line)} className="street-edge" />
      ))}
      {map?.streets.map((s) => (
        <path key={s.name} d={line(s.line)} className="street" />
      ))}
      {drive.ways.map((w, i) => (
        <path key={i} d={line(w)} className="way" transform={`translate(${(i % 3) - 1} ${(i % 3) - 1})`} />
      ))}
      {home && (
        <g transform={`translate(${x(home)} ${y(home)})`} className="map-home">
          <rect x="-14" y="-10" width="28" height="20" rx="6" />
          <path d="M-4.5 -6v12M4.5 -6v12" />
          <text x="20" y="4">
            {words.home}
          </text>
        </g>
      )}
      {numbered
        .filter((d) => d.at && d.n > 0)
        .map((d) => {
          const left = x(d.at!) > width - 170
          return (
            <g
              key={d.order}
              transform={`translate(${x(d.at!)} ${y(d.at!)})`}
              className={d.outcome ? 'map-stop done' : d.late > 0 ? 'map-stop late' : 'map-stop'}
            >
              <circle r="14" />
              <text className="map-n" y="5">
                {d.n}
              </text>
              <text x={left ? -20 : 20} y="5" textAnchor={left ? 'end' : 'start'} className="map-name">
                {d.customer.length > 22 ? `${d.customer.slice(0, 21)}…` : d.customer}
              </text>
            </g>
          )
        })}
    </svg>
  )
}
