import { colours, Plot, type Series } from '../kit/Plot'
import { Glyph } from '../kit/glyphs'
import { dayName, dayShort, minutes, useKitchen } from '../shell/kitchen'
import type { Day } from './when'
import { words } from './words'

const apart = 7 // treats with a colour of their own

/** What fills the evenings: the hands-on time of each day by treat, beside the hours that it has. */
export function Fills({ days }: { days: Day[] }) {
  const kitchen = useKitchen()
  const used = days.filter((d) => d.fills.length > 0 || d.setup > 0)
  if (used.length === 0) return null
  const sums = new Map<string, number>()
  for (const f of days.flatMap((d) => d.fills)) sums.set(f.treat, (sums.get(f.treat) ?? 0) + f.minutes)
  const treats = [...sums.keys()].sort((a, b) => sums.get(b)! - sums.get(a)!)
  const on = (d: Day, which: (treat: string) => boolean) =>
    d.fills.reduce((n, f) => n + (which(f.treat) ? f.minutes : 0), 0)
  const stack: Series[] = treats
    .slice(0, apart)
    .map((treat, i) => ({ name: treat, colour: colours[i]!, values: days.map((d) => on(d, (t) => t === treat)) }))
  const rest = new Set(treats.slice(apart))
  if (rest.size > 0)
    stack.push({ name: words.otherTreats, colour: '#8a7c72', values: days.map((d) => on(d, (t) => rest.has(t))) })
  stack.push({ name: words.meltingAndCleaningTime, colour: '#d9c6a8', values: days.map((d) => d.setup) })
  const open = { name: words.workingHours, colour: '#2b1a12', values: days.map((d) => d.open || null) }
  return (
    <section className="plan-fills" aria-label={words.whatFillsTheDays}>
      <h2>{words.whatFillsTheDays}</h2>
      <Plot
        label={words.plotOfDays}
        ticks={days.map((d) => dayShort(d.day))}
        stack={stack}
        marks={[open]}
        show={(n) => minutes(Math.round(n))}
        steps={[10, 30, 60, 120, 180, 240, 480]}
      />
      <div className="ledger-frame" role="region" aria-label={words.tableOfDays} tabIndex={0}>
        <table className="ledger">
          <thead>
            <tr>
              <th>{words.day}</th>
              <th>{words.work}</th>
              <th>{words.meltingAndCleaningTime}</th>
              <th>{words.workingHours}</th>
              <th>{words.stillFreeTime}</th>
            </tr>
          </thead>
          <tbody>
            {used.map((d) => (
              <tr key={d.day}>
                <th scope="row">{dayName(d.day)}</th>
                <td className="fills">
                  {d.fills.map((f) => (
                    <span key={f.treat}>
                      <Glyph family={f.family} size={15} /> {f.treat} <b>{minutes(f.minutes)}</b>
                    </span>
                  ))}
                </td>
                <td>{minutes(d.setup)}</td>
                <td>{minutes(d.open)}</td>
                <td>{d.day < kitchen.today() ? '' : minutes(d.free)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}
