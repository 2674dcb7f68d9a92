import { Button, Checkbox, Input, InputNumber, Select } from 'antd'
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { useSpots } from '../plan/Space'
import { traitsOf } from '../api/families'
import { changed, useFault, without } from './fields'
import type { Formula } from './TreatPage'
import { words } from './words'
import './treats.css'

type Work = Schemas['TreatStepTemplate']

/** The steps as a table that the seller changes: minutes of hands, waiting and where, and the gap before. */
export function Steps({ f, set }: { f: Formula; set: (change: Partial<Formula>) => void }) {
  const fault = useFault()
  const [more, setMore] = useState<string>()
  const places = [{ value: '', label: '–' }, ...useSpots().map((s) => ({ value: s.id!, label: s.name }))]
  const is = traitsOf(f.family)
  const round = is.unit === 'piece' ? 'a round' : `a ${is.unit}`
  return (
    <details className="steps">
      <summary>{words.editSteps}</summary>
      <table>
        <thead>
          <tr>
            <th>{words.stepInMinutes}</th>
            <th>{words.once}</th>
            <th>{round}</th>
            <th>{`a ${is.one}`}</th>
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
            const change = (x: Partial<Work>) => set({ steps: changed(f.steps, i, x) })
            const wrong = ['name', 'perBatch', 'perRound', 'perPiece', 'wait', 'earliest', 'latest', 'until', 'pot']
              .map((k) => fault(`steps[${i}].${k}`))
              .find(Boolean)
            const cell = (key: 'perBatch' | 'perRound' | 'perPiece' | 'wait', what: string) => (
              <td>
                <InputNumber
                  aria-label={`${s.name}: ${what}`}
                  value={s[key]}
                  min={0}
                  controls={false}
                  style={{ width: 58 }}
                  status={fault(`steps[${i}].${key}`) ? 'error' : undefined}
                  onChange={(n) => n !== null && change({ [key]: key === 'wait' ? Math.round(n) : n })}
                />
              </td>
            )
            return [
              <tr key={s.id}>
                <td>
                  <Input
                    aria-label={words.whatToDo}
                    value={s.name}
                    title={s.name}
                    onChange={(e) => change({ name: e.target.value })}
                  />
                </td>
                {cell('perBatch', words.minutesOnce)}
                {cell('perRound', words.minutesARound)}
                {cell('perPiece', words.minutesAPiece)}
                {cell('wait', words.minutesOfWaiting)}
                <td>
                  <Select
                    aria-label={words.whereItWaits(s.name)}
                    value={s.place ?? ''}
                    style={{ width: 108 }}
                    onChange={(place) => change({ place: place || undefined })}
                    options={places}
                    popupMatchSelectWidth={false}
                  />
                  {fault(`steps[${i}].place`) && (
                    <span className="fault" role="alert">
                      {fault(`steps[${i}].place`)}
                    </span>
                  )}
                </td>
                <td>
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
                  <InputNumber
                    aria-label={words.atLeastSoManyMinutes(s.name)}
                    value={s.earliest ?? 0}
                    min={0}
                    controls={false}
                    style={{ width: 44 }}
                    onChange={(n) => change({ earliest: n ? Math.round(n) : undefined })}
                  />{' '}
                  {words.to}
                  <InputNumber
                    aria-label={words.atMostSoManyMinutes(s.name)}
                    value={s.latest ?? null}
                    min={0}
                    controls={false}
                    placeholder={words.any}
                    status={fault(`steps[${i}].latest`) ? 'error' : undefined}
                    style={{ width: 48 }}
                    onChange={(n) => change({ latest: n === null ? undefined : Math.round(n) })}
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
                  <Button
                    type="text"
                    aria-label={words.leaveOut4(s.name)}
                    onClick={() => set({ steps: without(f.steps, i) })}
                  >
                    ×
                  </Button>
                </td>
              </tr>,
              more === s.id && (
                <tr key={`${s.id} more`}>
                  <td colSpan={10}>
                    <More f={f} s={s} later={f.steps.slice(i)} change={change} />
                  </td>
                </tr>
              ),
              wrong && (
                <tr key={`${s.id} wrong`}>
                  <td colSpan={10}>
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
      <Button
        type="link"
        className="link"
        onClick={() =>
          set({
            steps: [
              ...f.steps,
              {
                id: `own-${Date.now().toString(36)}`,
                name: words.aStepOfYourOwn,
                perBatch: 5,
                perRound: 0,
                perPiece: 0,
                wait: 0,
              },
            ],
          })
        }
      >
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

const roles: Record<NonNullable<Work['pot']>, string> = {
  shell: 'shell',
  coat: 'coat',
  base: 'base',
  layer: words.secondChocolate,
  cap: 'cap',
  drizzle: 'lines',
}

/**
 * What else a step is: the chocolate it works with, the moulds it holds and until when, what goes in, and whether it
 * goes by rounds.
 */
function More({ f, s, later, change }: { f: Formula; s: Work; later: Work[]; change: (x: Partial<Work>) => void }) {
  const there = [...new Set([...f.coatings, ...(f.finishes ?? []).flatMap((d) => d.coatings ?? [])].map((c) => c.role))]
  const adds = s.adds ?? []
  const moulds = Boolean(f.shell || f.mould)
  return (
    <div className="step-more">
      <span>
        {words.worksWith}{' '}
        <Select
          aria-label={words.itsChocolate(s.name)}
          value={s.pot ?? ''}
          style={{ width: 140 }}
          onChange={(pot) => change({ pot: (pot || undefined) as Work['pot'] })}
          options={[
            { value: '', label: words.noChocolate },
            ...there.map((r) => ({ value: r as string, label: roles[r] })),
          ]}
        />
      </span>
      <span>
        {words.putsIn}{' '}
        <Select
          aria-label={words.whatGoesIn2(s.name)}
          mode="multiple"
          value={adds}
          style={{ minWidth: 150 }}
          onChange={(list) => change({ adds: list })}
          options={[
            { value: 'centre' as const, label: words.theCentre },
            { value: 'in' as const, label: words.whatIsInIt },
            { value: 'on' as const, label: words.whatIsOnIt },
          ]}
        />
      </span>
      {moulds && (
        <Checkbox checked={Boolean(s.rounds)} onChange={(e) => change({ rounds: e.target.checked || undefined })}>
          {words.onceARound}
        </Checkbox>
      )}
      {moulds && (
        <span>
          {words.moulds2}{' '}
          <Select
            aria-label={words.moulds3(s.name)}
            value={s.moulds ? (s.until ?? 'own') : ''}
            style={{ width: 200 }}
            onChange={(v) =>
              change({ moulds: v === '' ? undefined : true, until: v === '' || v === 'own' ? undefined : v })
            }
            options={[
              { value: '', label: words.takesNone },
              { value: 'own', label: words.heldUntilItHasSet },
              ...later.slice(1).map((x) => ({ value: x.id, label: words.heldUntil(x.name) })),
            ]}
          />
        </span>
      )}
      {later.length > 1 && (
        <span title={words.asAShareOfThe}>
          {words.lostHere}{' '}
          <InputNumber
            aria-label={words.lostHere2(s.name)}
            value={Number(((s.loss ?? 0) * 100).toFixed(2))}
            min={0}
            max={90}
            suffix="%"
            controls={false}
            style={{ width: 74 }}
            onChange={(n) => change({ loss: n ? n / 100 : undefined })}
          />
        </span>
      )}
      <Checkbox checked={Boolean(s.ages)} onChange={(e) => change({ ages: e.target.checked || undefined })}>
        {words.shelfLifeStartsHere}
      </Checkbox>
    </div>
  )
}
