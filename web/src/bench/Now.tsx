import { Button, Checkbox, Input } from 'antd'
import { type RefObject, useState } from 'react'
import { lookOf } from '../kit/chocolate'
import { Glyph } from '../kit/glyphs'
import { Link } from '../shell/Go'
import { minutes, useKitchen, whatOf, whom } from '../shell/kitchen'
import { Notes } from './Notes'
import { Numbers } from '../kit/Numbers'
import { Broke, type Step } from './StepRow'
import type { useAloud } from './useAloud'
import type { Act } from './queue'
import { WeighOut } from './WeighOut'
import { words } from './words'
import './bench.css'

interface Props {
  s: Step
  day: string
  people: number
  place?: string // where it stands in the day, when it is not the current one
  tickButton: RefObject<HTMLButtonElement | null>
  tick: (s: Step, done: boolean) => Promise<void>
  lose: (s: Step, pieces: number) => Promise<void>
  look: (by: number) => void
  toCurrent: () => void
  startTimer: (s: Step) => void
  aloud: ReturnType<typeof useAloud>
  note: (text: string) => void
  does: (a: Act, title: string) => void
  unnote: (id: string, text: string) => void
}

/** Where a step is, for the page on which something has gone wrong. */
const wrongAt = (s: Step, day: string) =>
  String(new URLSearchParams({ batch: s.batch, step: s.step, day, name: `${s.name}, ${s.treat}` }))

/** One step, large: what is done now, with how much, and what waits then. */
export function Now(props: Props) {
  const { s, day, people, place, tickButton, tick, lose, look, toCurrent, startTimer, aloud, note, unnote, does } =
    props
  const kitchen = useKitchen()
  const { clock } = kitchen
  return (
    <article className="now" aria-label={place ? words.lookedAt : words.currentStep}>
      <span
        className="now-mark"
        style={{
          background: lookOf(s.chocolate).fill,
          color: lookOf(s.chocolate).ink,
          borderColor: lookOf(s.chocolate).edge,
        }}
      >
        <Glyph family={s.family} size={40} />
      </span>
      <div>
        <p className="now-when">
          {clock(s.start - s.melt - s.wash)} · {minutes(s.hands + s.melt)} {words.handsOn}
          {people > 1 && words.person(s.hand + 1)}
        </p>
        <h2>{s.name}</h2>
        <p className="now-what">
          {whatOf(kitchen, s)}
          {words.for} {whom(s.for)}
          {s.freeFrom.length > 0 && (
            <b className="trouble">
              {' '}
              {words.freeFrom} {s.freeFrom.join(', ')}
              {words.cleanToolsFirst}
            </b>
          )}
        </p>
        {s.advice && (
          <ol className="now-advice">
            {s.melt > 0 && (
              <li>
                <b>{minutes(s.melt)}</b> {words.toMelt}
              </li>
            )}
            {s.advice.map((line) => (
              <li key={line}>
                <Numbers text={line} />
              </li>
            ))}
          </ol>
        )}
        {s.amounts.length > 0 && (
          <ul className="now-amounts">
            {s.amounts.map((a) => (
              <li key={a}>{a}</li>
            ))}
          </ul>
        )}
        <WeighOut key={`${s.batch}/${s.step}`} s={s} does={does} keep={note} />
        <Notes s={s} />
        <StepNotes s={s} note={note} unnote={unnote} />
        {s.wait > 0 && (
          <p className="now-wait">
            {words.then} {minutes(s.wait)}
            {s.spot && `: ${s.spot}`}
          </p>
        )}
      </div>
      <div className="now-acts">
        <button type="button" ref={tickButton} className="done-button" onClick={() => void tick(s, !s.doneAt)}>
          {s.doneAt ? words.takeTickBack : words.done}
        </button>
        {s.wait > 0 && !s.doneAt && (
          <Button size="large" onClick={() => startTimer(s)}>
            {words.startTimer(minutes(s.wait))}
          </Button>
        )}
        <Broke s={s} lose={lose} large />
        <Link className="button-link large" to={`/bench/wrong?${wrongAt(s, day)}`}>
          {words.wrong}
        </Link>
        <span className="now-steps">
          <Button size="large" onClick={() => look(-1)} title="j">
            ‹ {words.back}
          </Button>
          <Button size="large" onClick={() => look(1)} title="k">
            {words.next} ›
          </Button>
        </span>
        {place && (
          <span className="now-place">
            {place}{' '}
            <Button type="link" className="link" onClick={toCurrent}>
              {words.toCurrent}
            </Button>
          </span>
        )}
        {aloud.can && (
          <Checkbox checked={aloud.on} onChange={(e) => aloud.set(e.target.checked)}>
            {words.aloud}
          </Checkbox>
        )}
      </div>
    </article>
  )
}

/** What was noted at a step while it was done, and room for more. */
function StepNotes({ s, note, unnote }: Pick<Props, 's' | 'note' | 'unnote'>) {
  const kitchen = useKitchen()
  const [text, setText] = useState<string>()
  return (
    <div className="step-notes">
      {(s.notes ?? []).map((n) => (
        <p key={n.id}>
          {n.text}{' '}
          <small className="soft">
            {n.who}, {kitchen.time(n.at)}
          </small>{' '}
          <Button
            type="link"
            className="link quiet"
            aria-label={words.removeNote(n.text)}
            onClick={() => unnote(n.id, n.text)}
          >
            {words.takeBack}
          </Button>
        </p>
      ))}
      {text === undefined ? (
        <Button type="link" className="link no-print" onClick={() => setText('')}>
          {words.addNote}
        </Button>
      ) : (
        <form
          onSubmit={(e) => {
            e.preventDefault()
            if (text.trim()) note(text.trim())
            setText(undefined)
          }}
        >
          <Input
            autoFocus
            aria-label={words.noteHere}
            placeholder={words.noteHere}
            maxLength={1000}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <Button htmlType="submit">{words.save}</Button>
        </form>
      )}
    </div>
  )
}
