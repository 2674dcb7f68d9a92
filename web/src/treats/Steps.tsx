import { Button, Input, InputNumber, Select } from 'antd'
import { memo, useLayoutEffect, useMemo, useRef, useState } from 'react'
import type { Schemas } from '../api/client'
import { traitsOf } from '../api/families'
import { newKey } from '../device/register'
import { useSay } from '../kit/say'
import { useSpots } from '../plan/Space'
import { type Change, changed, type Pantry, useFault, without } from './fields'
import { StepMore } from './StepMore'
import { StepsFromRecipe } from './StepsFromRecipe'
import type { Formula } from './TreatPage'
import { words } from './words'
import './treats.css'

export type Work = Schemas['TreatStepTemplate']

interface Editing {
  f: Formula
  set: (change: Change) => void
  pantry: Pantry
}

/** Fields whose faults stand under the row of their step. */
const shown = [
  'id',
  'name',
  'perBatch',
  'perRound',
  'perPiece',
  'wait',
  'earliest',
  'latest',
  'until',
  'pot',
  'ready',
  'part',
  'loss',
  'alone',
  'beside',
  'note',
  'look',
  'prepare',
  'perTray',
]

/** The steps as a table that the seller changes: minutes of hands, waiting and where, and the gap before. */
export function Steps({ f, set, pantry }: Editing) {
  const fault = useFault()
  const say = useSay()
  const [more, setMore] = useState<string>()
  const spots = useSpots()
  const places = useMemo(
    () => [{ value: '', label: '–' }, ...spots.map((s) => ({ value: s.id!, label: s.name }))],
    [spots],
  )
  const is = traitsOf(f.family)
  const round = is.unit === 'piece' ? words.aRound : words.aUnit(is.unit)
  const said = useRef(say)
  useLayoutEffect(() => {
    said.current = say
  })
  // Made of the steps as they are then: a row is not drawn anew when another is typed.
  const actions = useMemo(() => {
    const steps = (change: (steps: Work[]) => Work[]) => set((now) => ({ steps: change(now.steps) }))
    const at = (list: Work[], id: string) => list.findIndex((s) => s.id === id)
    const moved = (id: string, by: number) =>
      steps((list) => {
        const from = at(list, id)
        const to = from + by
        return from < 0 || to < 0 || to >= list.length ? list : without(list, from).toSpliced(to, 0, list[from]!)
      })
    return {
      change: (id: string, x: Partial<Work>) => steps((list) => changed(list, at(list, id), x)),
      toggle: (id: string) => setMore((now) => (now === id ? undefined : id)),
      insert(index: number) {
        const id = `own-${newKey().slice(0, 8)}`
        steps((list) =>
          list.toSpliced(index, 0, { id, name: words.aStepOfYourOwn, perBatch: 5, perRound: 0, perPiece: 0, wait: 0 }),
        )
        setMore(id)
        said.current.done('steps', words.stepAdded, () => steps((list) => list.filter((s) => s.id !== id)))
      },
      append(more: Work[]) {
        const added = new Set(more.map((s) => s.id))
        steps((list) => [...list, ...more])
        said.current.done('steps', words.stepsAdded(more.length), () =>
          steps((list) => list.filter((s) => !added.has(s.id))),
        )
      },
      leaveOut(s: Work, index: number) {
        steps((list) => without(list, at(list, s.id)))
        said.current.done('steps', words.stepLeftOut(s.name), () =>
          steps((list) => (at(list, s.id) < 0 ? list.toSpliced(Math.min(index, list.length), 0, s) : list)),
        )
      },
      move(s: Work, by: number) {
        moved(s.id, by)
        said.current.done('steps', by < 0 ? words.stepMovedUp(s.name) : words.stepMovedDown(s.name), () =>
          moved(s.id, -by),
        )
      },
    }
  }, [set])
  const names = new Map(f.steps.map((s) => [s.id, s.name]))

  return (
    <details className="steps">
      <summary>{words.editSteps}</summary>
      <table>
        <thead>
          <tr>
            <th>
              <span className="unseen">{words.stepInMinutes}</span>
              {words.once}
            </th>
            <th>{round}</th>
            <th>{words.aUnit(is.one)}</th>
            <th>{words.thenSetsFor}</th>
            <th>{words.where}</th>
            <th>{words.piecesPerTray}</th>
            <th title={words.minutesAfterTheStepBefore}>{words.waitBeforeMinMax}</th>
            <th />
            <th />
          </tr>
        </thead>
        <tbody>
          {f.steps.map((s, i) => [
            <StepRows
              key={s.id}
              s={s}
              i={i}
              open={more === s.id}
              round={round}
              places={places}
              beside={s.beside && (names.get(s.beside) ?? s.beside)}
              change={actions.change}
              toggle={actions.toggle}
              leaveOut={actions.leaveOut}
            />,
            more === s.id && (
              <tr key={`${s.id} more`}>
                <td colSpan={9}>
                  <StepMore
                    f={f}
                    s={s}
                    i={i}
                    pantry={pantry}
                    change={(x) => actions.change(s.id, x)}
                    insert={(after) => actions.insert(after ? i + 1 : i)}
                    move={(by) => actions.move(s, by)}
                  />
                </td>
              </tr>
            ),
          ])}
        </tbody>
      </table>
      <Button type="link" className="link" onClick={() => actions.insert(f.steps.length)}>
        {words.addAStep}
      </Button>{' '}
      <StepsFromRecipe places={spots.map((s) => s.id!)} add={actions.append} />
      {fault('steps') && (
        <p className="fault" role="alert">
          {fault('steps')}
        </p>
      )}
    </details>
  )
}

interface RowProps {
  s: Work
  i: number
  open: boolean
  round: string
  places: { value: string; label: string }[]
  beside?: string
  change: (id: string, x: Partial<Work>) => void
  toggle: (id: string) => void
  leaveOut: (s: Work, index: number) => void
}

/** A step in two rows: its name, and its minutes and places; below them what is said of it and what is wrong. */
const StepRows = memo(function StepRows({ s, i, open, round, places, beside, ...e }: RowProps) {
  const fault = useFault()
  const change = (x: Partial<Work>) => e.change(s.id, x)
  const path = (key: string) => `steps[${i}].${key}`
  const wrong = shown.map((k) => fault(path(k))).find(Boolean)
  const cell = (key: 'perBatch' | 'perRound' | 'perPiece' | 'wait', what: string) => (
    <td data-path={path(key)}>
      <InputNumber
        aria-label={words.stepWhat(s.name, what)}
        value={s[key]}
        min={0}
        controls={false}
        style={{ width: 58 }}
        status={fault(path(key)) ? 'error' : undefined}
        onChange={(n) => n !== null && change({ [key]: key === 'wait' ? Math.round(n) : n })}
      />
    </td>
  )
  return (
    <>
      <tr className={beside ? 'step-name beside' : 'step-name'}>
        <td colSpan={7} data-path={path('name')}>
          <Input
            aria-label={words.whatToDo}
            value={s.name}
            title={s.name}
            onChange={(e) => change({ name: e.target.value })}
          />
        </td>
        <td>
          <Button
            type="text"
            aria-label={words.moreOf(s.name)}
            aria-expanded={open}
            title={words.chocolateMouldsWhatGoesIn}
            onClick={() => e.toggle(s.id)}
          >
            …
          </Button>
        </td>
        <td>
          <Button type="text" aria-label={words.leaveOut4(s.name)} onClick={() => e.leaveOut(s, i)}>
            ×
          </Button>
        </td>
      </tr>
      <tr className={beside ? 'beside' : undefined}>
        {cell('perBatch', words.minutesOnce)}
        {cell('perRound', words.minutesARound)}
        {cell('perPiece', words.minutesAPiece)}
        {cell('wait', words.minutesOfWaiting)}
        <td data-path={path('place')}>
          <Select
            aria-label={words.whereItWaits(s.name)}
            value={s.place ?? ''}
            style={{ width: 108 }}
            onChange={(place) => change({ place: place || undefined })}
            options={places}
            popupMatchSelectWidth={false}
          />
          {fault(path('place')) && (
            <span className="fault" role="alert">
              {fault(path('place'))}
            </span>
          )}
        </td>
        <td data-path={path('perTray')}>
          <InputNumber
            aria-label={words.piecesOnATray(s.name)}
            value={s.perTray ?? null}
            min={0}
            controls={false}
            placeholder={`1 ${round.slice(2)}`}
            style={{ width: 70 }}
            onChange={(n) => change({ perTray: n ? Math.round(n) : undefined })}
          />
        </td>
        <td className="gap">
          <span data-path={path('earliest')}>
            <InputNumber
              aria-label={words.atLeastSoManyMinutes(s.name)}
              value={s.earliest ?? 0}
              min={0}
              controls={false}
              style={{ width: 44 }}
              onChange={(n) => change({ earliest: n ? Math.round(n) : undefined })}
            />
          </span>{' '}
          {words.to}{' '}
          <span data-path={path('latest')}>
            <InputNumber
              aria-label={words.atMostSoManyMinutes(s.name)}
              value={s.latest ?? null}
              min={0}
              controls={false}
              placeholder={words.any}
              status={fault(path('latest')) ? 'error' : undefined}
              style={{ width: 48 }}
              onChange={(n) => change({ latest: n === null ? undefined : Math.round(n) })}
            />
          </span>
        </td>
        <td colSpan={2} />
      </tr>
      {(beside ?? s.note ?? s.look) && !open && (
        <tr className="told">
          <td colSpan={9}>
            {beside && <small>{words.besideOthers(beside)}</small>}
            {s.look && <small>{words.lookForIt(s.look)}</small>}
            {s.note && <small>{s.note}</small>}
          </td>
        </tr>
      )}
      {wrong && (
        <tr>
          <td colSpan={9}>
            <span className="fault" role="alert">
              {wrong}
            </span>
          </td>
        </tr>
      )}
    </>
  )
})
