import { Button } from 'antd'
import type { Schemas } from '../api/client'
import { Sign } from '../kit/glyphs'
import { Link } from '../shell/Go'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'

export type Day = Schemas['HandoverDriveDay']
export type Choices = Schemas['HandoverChoices']
/** Changes what is settled of a day's drives, and says what was done. */
export type Settle = (change: Partial<Choices>, said?: string) => Promise<void>

/** Whether the plan has the time that they take, and the way in and out of it. */
export function InPlan({ d, settle }: { d: Day; settle: Settle }) {
  if (!d.choices.planned) {
    return (
      <Button size="large" onClick={() => void settle({ planned: true }, words.planned)}>
        {words.intoPlan}
      </Button>
    )
  }
  return (
    <p className={d.stale ? 'trouble' : 'fine'}>
      <Sign kind={d.stale ? 'trouble' : 'fine'} size={14} />{' '}
      {d.stale ? words.stale : d.drives.length > 0 ? words.isInPlan : words.setUpIsInPlan}{' '}
      {d.stale && (
        <Button type="link" className="link" onClick={() => void settle({}, words.planned)}>
          {words.planAgain}
        </Button>
      )}
      <Button type="link" className="link quiet" onClick={() => void settle({ planned: false }, words.unplanned)}>
        {words.outOfPlan}
      </Button>
    </p>
  )
}

/** What is set up at events to which nothing is brought: on a day without a drive it goes into the plan by itself. */
export function Setups({ d, settle }: { d: Day; settle: Settle }) {
  const { clock } = useKitchen()
  if (d.setups.length === 0) return null
  return (
    <section className="setups" aria-label={words.setups}>
      {d.setups.map((s) => (
        <p key={s.event}>
          <b>{words.setUpFrom(clock(s.from), clock(s.to))}</b>{' '}
          <Link to={`/events/${s.event}`}>{[s.name, s.place].filter(Boolean).join(', ')}</Link>
        </p>
      ))}
      {d.drives.length === 0 && (
        <>
          {d.says.map((x) => (
            <p key={x} className="soft">
              {x}
            </p>
          ))}
          <InPlan d={d} settle={settle} />
        </>
      )}
    </section>
  )
}
