import { Button, Input, InputNumber, Select } from 'antd'
import type { Schemas } from '../api/client'
import { changed, useFault, without } from './fields'
import type { Formula } from './TreatPage'

type Work = Schemas['TreatWork']

const places: { value: NonNullable<Work['place']> | ''; label: string }[] = [{ value: '', label: '–' }, { value: 'counter', label: 'counter' }, { value: 'fridge', label: 'fridge' }, { value: 'freezer', label: 'freezer' }]

/** The steps as a table that the seller changes: minutes of hands, waiting and where, and the gap before. */
export function Steps({ f, set }: { f: Formula; set: (change: Partial<Formula>) => void }) {
  const fault = useFault()
  const round = f.family === 'bark' ? 'a sheet' : f.family === 'fudge' ? 'a pan' : 'a round'
  return (
    <details className="steps">
      <summary>Change the steps: minutes, where they wait, the gaps between</summary>
      <table>
        <thead>
          <tr><th>Step, in minutes</th><th>once</th><th>{round}</th><th>{f.family === 'bark' ? 'a bag' : 'a piece'}</th><th>then waits</th><th>where</th><th>a tray holds</th><th title="Minutes after the step before: at least, and at most where it matters">gap before</th><th /></tr>
        </thead>
        <tbody>
          {f.steps.map((s, i) => {
            const change = (x: Partial<Work>) => set({ steps: changed(f.steps, i, x) })
            const wrong = ['name', 'perBatch', 'perRound', 'perPiece', 'wait', 'earliest', 'latest', 'until', 'pot'].map((k) => fault(`steps[${i}].${k}`)).find(Boolean)
            const cell = (key: 'perBatch' | 'perRound' | 'perPiece' | 'wait', what: string) => (
              <td><InputNumber aria-label={`${s.name}: ${what}`} value={s[key]} min={0} controls={false} style={{ width: 58 }} status={fault(`steps[${i}].${key}`) ? 'error' : undefined} onChange={(n) => n !== null && change({ [key]: key === 'wait' ? Math.round(n) : n })} /></td>
            )
            return [
              <tr key={s.id}>
                <td><Input aria-label="What to do" value={s.name} title={s.name} onChange={(e) => change({ name: e.target.value })} /></td>
                {cell('perBatch', 'minutes once')}{cell('perRound', 'minutes a round')}{cell('perPiece', 'minutes a piece')}{cell('wait', 'minutes of waiting')}
                <td><Select aria-label={`${s.name}: where it waits`} value={s.place ?? ''} style={{ width: 92 }} onChange={(place) => change({ place: (place || undefined) as Work['place'] })} options={places} /></td>
                <td><InputNumber aria-label={`${s.name}: pieces on a tray`} value={s.perTray ?? null} min={0} controls={false} placeholder={`1 ${round.slice(2)}`} style={{ width: 70 }} onChange={(n) => change({ perTray: n ? Math.round(n) : undefined })} /></td>
                <td className="gap">
                  <InputNumber aria-label={`${s.name}: at least so many minutes after the step before`} value={s.earliest ?? 0} min={0} controls={false} style={{ width: 44 }} onChange={(n) => change({ earliest: n ? Math.round(n) : undefined })} /> to
                  <InputNumber aria-label={`${s.name}: at most so many minutes after the step before`} value={s.latest ?? null} min={0} controls={false} placeholder="any" status={fault(`steps[${i}].latest`) ? 'error' : undefined} style={{ width: 48 }} onChange={(n) => change({ latest: n === null ? undefined : Math.round(n) })} />
                </td>
                <td><Button type="text" aria-label={`Leave out: ${s.name}`} onClick={() => set({ steps: without(f.steps, i) })}>×</Button></td>
              </tr>,
              wrong && <tr key={`${s.id} wrong`}><td colSpan={9}><span className="fault" role="alert">{wrong}</span></td></tr>,
            ]
          })}
        </tbody>
      </table>
      <button type="button" className="link" onClick={() => set({ steps: [...f.steps, { id: `own-${Date.now().toString(36)}`, name: 'A step of your own', perBatch: 5, perRound: 0, perPiece: 0, wait: 0 }] })}>+ a step</button>
      {fault('steps') && <p className="fault" role="alert">{fault('steps')}</p>}
    </details>
  )
}
