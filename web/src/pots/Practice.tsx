import { useQuery } from '@tanstack/react-query'
import { Button, Checkbox, Segmented } from 'antd'
import { useEffect, useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { Face } from '../kit/Face'
import { Link } from '../shell/Go'
import { AtTheBowl, type Note } from './AtTheBowl'
import { Curve } from './Curve'
import { Deeds } from './Deeds'
import { Main } from './Main'
import type { Pot } from './pot'
import { words } from './words'
import './pots.css'

type Exercise = Schemas['PotsPracticeRun']['exercise']
type Seen = Schemas['PotsPracticeSeen']

const exercises: Exercise[] = ['temper', 'rescue', 'alive']
const speeds = [1, 5, 20, 60] as const
const longest = 10_800 // s

/** A bowl that is not there, to practise on: nothing of the kitchen is touched. */
export default function Practice() {
  const [exercise, setExercise] = useState<Exercise>()
  const [turn, setTurn] = useState(0)
  if (exercise)
    return (
      <Run
        key={`${exercise} ${turn}`}
        exercise={exercise}
        again={() => setTurn((n) => n + 1)}
        other={() => setExercise(undefined)}
      />
    )
  return (
    <section className="wide practice">
      <h1>{words.practice}</h1>
      <p>{words.practiceWhat}</p>
      <ul>
        {exercises.map((e) => (
          <li key={e}>
            <button type="button" onClick={() => setExercise(e)}>
              <b>{words.exercises[e]}</b>
              <span>{words.exerciseOf[e]}</span>
            </button>
          </li>
        ))}
      </ul>
      <Link to="/bench">{words.backToBench}</Link>
    </section>
  )
}

/** Seconds of the exercise as they pass, at the speed that was chosen; they stand still while it is over. */
function useSimulated(speed: number, over: boolean) {
  const [now, setNow] = useState(0)
  useEffect(() => {
    if (over) return
    let last = performance.now()
    const timer = setInterval(() => {
      const at = performance.now()
      const by = ((at - last) / 1000) * speed
      last = at
      setNow((n) => Math.min(n + by, longest))
    }, 250)
    return () => clearInterval(timer)
  }, [speed, over])
  return now
}

function Run({ exercise, again, other }: { exercise: Exercise; again: () => void; other: () => void }) {
  const [speed, setSpeed] = useState(5)
  const [silent, setSilent] = useState(false)
  const [over, setOver] = useState(false)
  const [seed] = useState(() => Math.floor(Math.random() * 2 ** 31))
  const [deeds, setDeeds] = useState<Schemas['PotsPracticeDeed'][]>([])
  const now = useSimulated(speed, over)
  // Asked twice a second; what is drawn between is what was answered last.
  const tick = over ? now : Math.floor(now / speed / 0.5) * 0.5 * speed
  const seen = useQuery({
    queryKey: ['practice', exercise, seed, tick, deeds, over],
    queryFn: (): Promise<Seen> =>
      ask(
        api.POST('/api/v1/calculators/practice', {
          body: { exercise, seed, deeds, now: Math.min(tick, longest), over },
        }),
      ),
    gcTime: 2_000,
    staleTime: Infinity,
  })
  if (!seen.data) return <Face title={words.exercises[exercise]} of={[seen]} />
  const p: Pot = { ...seen.data.pot, name: words.dark, heardAt: 0 }
  const note: Note = (t) => {
    setDeeds((all) => [...all, { ...t, at: now }])
    return Promise.resolve()
  }
  const result = over ? seen.data.result : undefined
  if (result)
    return (
      <section className="wide practice-over" aria-label={words.practice}>
        <h1>{words.points(result.points)}</h1>
        {result.costs.length === 0 && <p>{words.nothingLost}</p>}
        <ul>
          {result.costs.map((c) => (
            <li key={c.why}>
              <b>{words.cost(c.points)}</b> {c.why}
            </li>
          ))}
        </ul>
        <Curve p={{ ...p, ended: p.began }} />
        <footer className="pot-ends">
          <Button type="primary" onClick={again}>
            {words.onceMore}
          </Button>
          <Button onClick={other}>{words.anotherExercise}</Button>
          <Link to="/bench">{words.backToBench}</Link>
        </footer>
      </section>
    )
  return (
    <section className="wide pot" aria-label={words.practice}>
      <Main p={p} seconds={now} silent={silent} />
      <aside className="pot-side">
        <div className="practice-speed">
          <Segmented
            aria-label={words.speed}
            value={speed}
            options={speeds.map((value) => ({ value, label: words.times(value) }))}
            onChange={setSpeed}
          />
          <Checkbox checked={silent} onChange={(e) => setSilent(e.target.checked)}>
            {words.withoutAdvice}
          </Checkbox>
        </div>
        {p.advice?.left !== undefined && (
          <p className="pot-left">
            <b>{words.left(p.advice.left)}</b>
          </p>
        )}
        {!silent && <AtTheBowl key={`${p.advice!.stage} ${p.advice!.touches[0]?.what ?? ''}`} p={p} note={note} />}
        <Deeds
          p={p}
          note={note}
          since
          undo={(id) => {
            // Its id is its number among those that were done.
            const at = p.deeds.findIndex((d) => d.id === id)
            setDeeds((all) => all.filter((_, i) => i !== at))
            return Promise.resolve()
          }}
        />
        <footer className="pot-ends">
          <Button type="primary" onClick={() => setOver(true)}>
            {words.isOver}
          </Button>
          <Button onClick={other}>{words.anotherExercise}</Button>
        </footer>
      </aside>
      <p className="pot-caution soft">{words.practiceCaution}</p>
    </section>
  )
}
