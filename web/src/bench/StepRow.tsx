import { Button } from 'antd'
import type { Schemas } from '../api/client'
import { lookOf } from '../kit/chocolate'
import { Glyph, Sign } from '../kit/glyphs'
import { Link } from '../shell/Go'
import { minutes, useKitchen, whatOf, whom } from '../shell/kitchen'
import { Notes } from './Notes'
import { words } from './words'
import './bench.css'

export type Step = Schemas['BenchStep']

interface RowProps {
  s: Step
  at: boolean
  people: number
  waits?: boolean // something of it is still to be sent
  later?: number // when it would begin, where one is behind
  tick: (s: Step, done: boolean) => Promise<void>
  lose: (s: Step, pieces: number) => Promise<void>
}

/** A piece that broke is one touch, where it broke. */
export function Broke({ s, lose, large }: { s: Step; lose: RowProps['lose']; large?: boolean }) {
  if (!s.counted) return null
  return (
    <span className="broke">
      <Button
        size={large ? 'large' : 'small'}
        aria-label={words.oneBrokeAt(s.name, s.treat)}
        onClick={() => void lose(s, 1)}
      >
        {words.oneBroke}
      </Button>
      {s.broken > 0 && <small className="trouble">{words.broken(s.broken)}</small>}
    </span>
  )
}

export function StepRow({ s, at, waits, people, later, tick, lose }: RowProps) {
  const kitchen = useKitchen()
  const { clock } = kitchen
  const look = lookOf(s.chocolate)
  return (
    <li className={s.doneAt ? 'done' : at ? 'at' : ''}>
      <time>
        {clock(s.start - s.melt - s.wash)}
        {later !== undefined && !s.doneAt && (
          <small className="late">
            {words.now} {clock(later - s.melt - s.wash)}
          </small>
        )}
      </time>
      <span className="run-mark" style={{ background: look.fill, color: look.ink, borderColor: look.edge }}>
        <Glyph family={s.family} size={18} />
      </span>
      <span className="run-what">
        {s.wash > 0 && (
          <small className="run-melt">
            {words.cleanDown2} {minutes(s.wash)}
            {words.cleanTools2}
          </small>
        )}
        {s.melt > 0 && (
          <small className="run-melt">
            {words.melt2} {minutes(s.melt)}
            {words.thenAt} {clock(s.start)}
          </small>
        )}
        <b>{s.name}</b>
        {waits && <small className="step-waits">{words.waits}</small>}
        {s.short && (
          <small className="trouble">
            <Sign kind="trouble" size={13} /> {words.noRoomInThe} <Link to="/plan">{words.plan}</Link>{' '}
            {words.anyMoreThisIsWhen}
          </small>
        )}
        <small>
          {whatOf(kitchen, s)}, {whom(s.for)}
          {s.freeFrom.length > 0 && (
            <b className="trouble">
              {' '}
              {words.freeFrom} {s.freeFrom.join(', ')}
            </b>
          )}
          {s.amounts.length > 0 && ` · ${s.amounts.join(' · ')}`}
        </small>
        <Notes s={s} />
        {s.advice && s.melt === 0 && <small className="run-advice">{s.advice.join(' ')}</small>}
      </span>
      <span className="run-time">
        <b>
          {minutes(s.hands)}
          {people > 1 && words.person2(s.hand + 1)}
        </b>
        {s.wait > 0 && (
          <small className="wait">
            {minutes(s.wait)}
            {s.spot && `: ${s.spot}`}
            {words.until} {clock(s.start + s.hands + s.wait)}
          </small>
        )}
        <Broke s={s} lose={lose} />
      </span>
      <label className="tick">
        <input
          type="checkbox"
          checked={Boolean(s.doneAt)}
          onChange={(e) => void tick(s, e.target.checked)}
          aria-label={words.forDone(s.name, s.treat, whom(s.for))}
        />
        <span aria-hidden="true" />
      </label>
    </li>
  )
}
