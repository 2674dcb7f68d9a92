import { Button, InputNumber } from 'antd'
import { Fragment, useState } from 'react'
import type { Schemas } from '../api/client'
import { clockOf, Day as DayPick, minuteOf, Time } from '../kit/Day'
import { Sign } from '../kit/glyphs'
import { Line, Part } from '../orders/Estimate'
import { Link } from '../shell/Go'
import { dayName, minutes, useKitchen, whatOf } from '../shell/kitchen'
import './plan.css'
import type { At, Step } from './when'
import { words } from './words'

/** Whom a batch is for, each with the way to the order. */
export function Takers({ takers }: { takers: Schemas['OrderShareOwner'][] }) {
  return takers.map((t, i) => (
    <Fragment key={t.order}>
      {i > 0 && (i + 1 < takers.length ? ', ' : words.and2)}
      <Link to={`/orders/${t.order}`}>{t.customer}</Link>
      {takers.length > 1 && ` (${t.count})`}
    </Fragment>
  ))
}

/** The step that is looked at, and where it is pinned: by day and time, for whoever does not drag. */
export function Chosen({
  step,
  day,
  peopleOn,
  pin,
  unpin,
  leave,
  go,
}: {
  step: Step
  day: string
  peopleOn: (day: string) => number
  pin: (to: At) => void
  unpin: () => void
  leave: () => void
  go: (by: 1 | -1) => void
}) {
  const kitchen = useKitchen()
  const { clock } = kitchen
  const [on, setOn] = useState(day)
  const [start, setStart] = useState(step.start)
  const [person, setPerson] = useState(step.hand)
  const people = peopleOn(on)
  const hand = Math.min(person, people - 1) // on another day there may be fewer
  return (
    <Part name={words.step}>
      <div className="step-acts">
        <Button size="small" aria-label={words.theStepBefore} onClick={() => go(-1)}>
          ‹
        </Button>
        <Button size="small" aria-label={words.theNextStep} onClick={() => go(1)}>
          ›
        </Button>
        <b>{step.name}</b>
      </div>
      <p>
        {step.mix ? (
          <Link to={`/treats/mixes/${step.mix}`}>{whatOf(kitchen, step)}</Link>
        ) : (
          <>
            {whatOf(kitchen, step)} {words.for} <Takers takers={step.for} />
          </>
        )}
      </p>
      {step.freeFrom.length > 0 && (
        <p className="trouble">
          <Sign kind="caution" size={14} /> {words.freeFrom} {step.freeFrom.join(', ')}
          {words.cleanToolsFirst}
        </p>
      )}
      <Line figure={words.to3(clock(step.start), clock(step.start + step.hands))}>
        {dayName(day)}
        {peopleOn(day) > 1 && words.byPerson(step.hand + 1)}
      </Line>
      {step.wash > 0 && <Line figure={minutes(step.wash)}>{words.washDownBefore}</Line>}
      {step.melt > 0 && (
        <Line figure={minutes(step.melt)}>
          {words.melt} {step.pot} {words.before}
        </Line>
      )}
      {step.wait > 0 && (
        <Line figure={minutes(step.wait)}>
          {words.waits}
          {step.spot && `: ${step.spot}`}
        </Line>
      )}
      {step.done ? (
        <p className="soft">{words.done2}</p>
      ) : (
        <div className="step-acts">
          <DayPick label={words.dayOfTheStep} value={on} onChange={setOn} />
          <Time label={words.timeOfTheStep} value={clockOf(start)} onChange={(time) => setStart(minuteOf(time))} />
          {people > 1 && (
            <label>
              {words.person}{' '}
              <InputNumber
                aria-label={words.personOfTheStep}
                min={1}
                max={people}
                value={hand + 1}
                style={{ width: 60 }}
                onChange={(n) => n && setPerson(n - 1)}
              />
            </label>
          )}
          <Button size="small" onClick={() => pin({ day: on, start, hand })}>
            {step.pinned && on === day && start === step.start ? words.pinned : words.pin}
          </Button>
          {step.pinned && (
            <Button size="small" onClick={unpin}>
              {words.unpin}
            </Button>
          )}
          {step.mix && (
            <Button size="small" onClick={leave}>
              {words.takeOutOfThePlan}
            </Button>
          )}
        </div>
      )}
    </Part>
  )
}
