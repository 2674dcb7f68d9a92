import { Button, Input, InputNumber, Select } from 'antd'
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { traitsOf } from '../api/families'
import { newKey } from '../device/register'
import { useSay } from '../kit/say'
import { useSpots } from '../plan/Space'
import { changed, type Pantry, useFault, without } from './fields'
import { StepMore } from './StepMore'
import type { Formula } from './TreatPage'
import { words } from './words'
import './treats.css'

export type Work = Schemas['TreatStepTemplate']

interface Editing {
  f: Formula
  set: (change: (f: Formula) => Partial<Formula>) => void
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
  const places = [{ value: '', label: '–' }, ...useSpots().map((s) => ({ value: s.id!, label: s.name }))]
  const is = traitsOf(f.family)
  const round = is.unit === 'piece' ? words.aRound : words.aUnit(is.unit)
  const steps = (change: (steps: Work[]) => Work[]) => set((now) => ({ steps: change(now.steps) }))
  const at = (list: Work[], id: string) => list.findIndex((s) => s.id === id)

  function insert(index: number) {
    const id = `own-${newKey().slice(0, 8)}`
    steps((list) =>
      list.toSpliced(index, 0, { id, name: words.aStepOfYourOwn, perBatch: 5, perRound: 0, perPiece: 0, wait: 0 }),
    )
    setMore(id)
    say.done('steps', words.stepAdded, () => steps((list) => list.filter((s) => s.id !== id)))
  }

  function leaveOut(s: Work, index: number) {
    steps((list) => without(list, at(list, s.id)))
    say.done('steps', words.stepLeftOut(s.name), () =>
      steps((list) => (at(list, s.id) < 0 ? list.toSpliced(Math.min(index, list.length), 0, s) : list)),
    )
  }

  function move(s: Work, by: number) {
    const moved = (by: number) =>
      steps((list) => {
        const from = at(list, s.id)
        const to = from + by
        return from < 0 || to < 0 || to >= list.length ? list : without(list, from).toSpliced(to, 0, list[from]!)
      })
    moved(by)
    say.done('steps', by < 0 ? words.stepMovedUp(s.name) : words.stepMovedDown(s.name), () => moved(-by))
  }

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
          {f.steps.map((s, i) => {
            const change = (x: Partial<Work>) => steps((list) => changed(list, at(list, s.id), x))
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
            return [
              <tr key={s.id} className={s.beside ? 'step-name beside' : 'step-name'}>
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
                    aria-expanded={more === s.id}
                    title={words.chocolateMouldsWhatGoesIn}
                    onClick={() => setMore(more === s.id ? undefined : s.id)}
                  >
                    …
                  </Button>
                </td>
                <td>
                  <Button type="text" aria-label={words.leaveOut4(s.name)} onClick={() => leaveOut(s, i)}>
                    ×
                  </Button>
                </td>
              </tr>,
              <tr key={`${s.id} numbers`} className={s.beside ? 'beside' : undefined}>
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
              </tr>,
              (s.beside ?? s.note ?? s.look) && more !== s.id && (
                <tr key={`${s.id} told`} className="told">
                  <td colSpan={9}>
                    {s.beside && (
                      <small>{words.besideOthers(f.steps.find((x) => x.id === s.beside)?.name ?? s.beside)}</small>
                    )}
                    {s.look && <small>{words.lookForIt(s.look)}</small>}
                    {s.note && <small>{s.note}</small>}
                  </td>
                </tr>
              ),
              more === s.id && (
                <tr key={`${s.id} more`}>
                  <td colSpan={9}>
                    <StepMore
                      f={f}
                      s={s}
                      i={i}
                      pantry={pantry}
                      change={change}
                      insert={(after) => insert(after ? i + 1 : i)}
                      move={(by) => move(s, by)}
                    />
                  </td>
                </tr>
              ),
              wrong && (
                <tr key={`${s.id} wrong`}>
                  <td colSpan={9}>
                    <span className="fault" role="alert">
                      {wrong}
                    </span>
                  </td>
                </tr>
              ),
            ]
          })}
        </tbody>
      </table>
      <Button type="link" className="link" onClick={() => insert(f.steps.length)}>
        {words.addAStep}
      </Button>
      {fault('steps') && (
        <p className="fault" role="alert">
          {fault('steps')}
        </p>
      )}
    </details>
  )
}
