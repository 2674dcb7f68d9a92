import { useQuery } from '@tanstack/react-query'
import { api, askTagged } from '../api/client'
import { Sign } from '../kit/glyphs'
import { Link } from '../shell/Go'
import './drive.css'
import { words } from './words'

/** What the heat of a day asks for on its drives: at one order's door, or for all of them. */
export function DayHeat({ day, order }: { day: string; order?: string }) {
  const drives = useQuery({
    queryKey: ['drives', day],
    queryFn: () => askTagged(api.GET('/api/v1/drives/{day}', { params: { path: { day } } })),
    staleTime: 60_000,
  })
  const all = drives.data?.data.drives ?? []
  const theirs = order ? all.filter((v) => v.drops.some((x) => x.order === order)) : all
  const says = theirs.flatMap((v) => [
    ...v.drops.filter((x) => x.order === order).flatMap((x) => x.care),
    ...(v.chests.length > 0 ? v.heat.slice(0, v.chests.length) : []),
  ])
  if (theirs.length === 0) return null
  return (
    <aside className="day-heat" aria-label={words.heat}>
      <Link to={`/handover/drive/${day}`}>{words.drive}</Link>
      {says.map((s) => (
        <p key={s} className="heat-says">
          <Sign kind="caution" size={14} /> {s}
        </p>
      ))}
    </aside>
  )
}
