import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { traitsOf } from '../api/families'
import { askAnew } from '../api/topics'
import { Blank } from '../kit/Blank'
import { OpenFile } from '../kit/OpenFile'
import { Plot } from '../kit/Plot'
import { useSay } from '../kit/say'
import { scalesOf, weight } from '../pots/pot'
import { Link } from '../shell/Go'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'

type Batch = Schemas['LogbookBatch']
type Step = Schemas['LogbookStep']

const mostBytes = 5 << 20

/** All that is known of a batch: its steps, to be corrected, its bowls, what went wrong, and its photo. */
export function Entry({ b }: { b: Batch }) {
  const fruit = traitsOf(b.family as Parameters<typeof traitsOf>[0])?.picked
  return (
    <div className="log-entry">
      <table>
        <thead>
          <tr>
            <th scope="col">{words.step}</th>
            <th scope="col">{words.reckoned}</th>
            <th scope="col">{words.minutes}</th>
            <th scope="col">{words.lostAt}</th>
            <th scope="col">{words.repairedAt}</th>
            <th scope="col">{words.backAt}</th>
            {fruit && <th scope="col">{words.unfitAt}</th>}
            <th />
          </tr>
        </thead>
        <tbody>
          {b.steps.map((s, i) => (
            <Row key={`${s.step} ${JSON.stringify(s)}`} b={b} s={s} fruit={Boolean(fruit)} first={i === 0} />
          ))}
        </tbody>
      </table>
      {b.faults.length > 0 && (
        <>
          <h3>{words.faults}</h3>
          <ul>
            {b.faults.map((f, i) => (
              <li key={i}>
                {f.units > 0 && `${f.units} × `}
                <b>{f.sign}</b>. {f.cause}
              </li>
            ))}
          </ul>
        </>
      )}
      {b.notes.length > 0 && (
        <>
          <h3>{words.notes}</h3>
          <ul>
            {b.notes.map((n, i) => (
              <li key={i}>{n}</li>
            ))}
          </ul>
        </>
      )}
      {b.bowls.length > 0 && <Bowls b={b} />}
      <Photo b={b} />
    </div>
  )
}

const text = (n?: number) => (n === undefined || n === 0 ? '' : String(Math.round(n * 10) / 10))

/** A step, with blanks for what a person knows better. */
function Row({ b, s, fruit, first }: { b: Batch; s: Step; fruit: boolean; first: boolean }) {
  const queries = useQueryClient()
  const say = useSay()
  const was = {
    minutes: text(s.took),
    lost: text(s.lost),
    repaired: text(s.repaired),
    back: text(s.back),
    unfit: text(s.unfit),
  }
  const [now, setNow] = useState(was)
  const same = JSON.stringify(was) === JSON.stringify(now)
  async function save() {
    const number = (t: string) => (t === '' ? undefined : Number(t))
    try {
      await ask(
        api.PUT('/api/v1/batches/{id}/results/{step}', {
          params: { path: { id: b.id, step: s.step } },
          body: {
            minutes: now.minutes === was.minutes && !s.byHand ? undefined : number(now.minutes),
            lost: number(now.lost) ?? 0,
            repaired: number(now.repaired) ?? 0,
            back: number(now.back) ?? 0,
            unfit: number(now.unfit),
          },
        }),
      )
      say.done('result', words.saved(s.name))
    } catch (error) {
      say.refused(error)
    }
    await askAnew(queries, ['plan'])
  }
  const blank = (key: keyof typeof was, label: string) => (
    <td>
      <Blank
        label={words.of(label, s.name, b.name)}
        inputMode="decimal"
        wide={4}
        value={now[key]}
        placeholder="–"
        onChange={(e) => {
          const typed = e.target.value.replace(key === 'minutes' ? /[^\d.]/g : /\D/g, '').slice(0, 6)
          setNow({ ...now, [key]: typed })
        }}
      />
    </td>
  )
  return (
    <tr>
      <th scope="row">{s.name}</th>
      <td>{words.min(Math.round(s.planned))}</td>
      {blank('minutes', words.minutes)}
      {blank('lost', words.lostAt)}
      {blank('repaired', words.repairedAt)}
      {blank('back', words.backAt)}
      {fruit && (first ? blank('unfit', words.unfitAt) : <td />)}
      <td>{!same && <Button onClick={() => void save()}>{words.save}</Button>}</td>
    </tr>
  )
}

/** Its bowls: how warm they were, how they set, what was left. */
function Bowls({ b }: { b: Batch }) {
  const kitchen = useKitchen()
  const { inUnit, degree } = scalesOf(kitchen)
  return (
    <>
      <h3>{words.bowls}</h3>
      {b.bowls.map((bowl) => (
        <div key={bowl.id} className="log-bowl">
          <p>
            <Link to={`/bench/bowls/${bowl.id}`}>{bowl.name}</Link> {words.results[bowl.result]}
            {bowl.remains !== undefined && ` · ${words.left(weight(kitchen, bowl.remains))}`}
          </p>
          {bowl.curve && bowl.curve.length > 1 && (
            <Plot
              label={words.curve(bowl.name)}
              ticks={bowl.curve.map((x) => words.min(Math.round(x.at / 60)))}
              lines={[{ name: degree, colour: '#c8500a', values: bowl.curve.map((x) => inUnit(x.value)) }]}
              show={(n) => n.toFixed(0)}
              least={inUnit(18)}
              height={160}
            />
          )}
        </div>
      ))}
    </>
  )
}

/** One photo, if wanted. */
function Photo({ b }: { b: Batch }) {
  const queries = useQueryClient()
  const say = useSay()
  const [version, setVersion] = useState(0)
  async function put(file: File) {
    try {
      if (file.size > mostBytes) throw new Refused({ type: '', status: 413, detail: words.photoTooLarge })
      await ask(
        api.PUT('/api/v1/batches/{id}/photo', {
          params: { path: { id: b.id } },
          body: file as never,
          bodySerializer: (body: unknown) => body as Blob,
          headers: { 'Content-Type': 'image/jpeg' },
        }),
      )
      setVersion((v) => v + 1)
    } catch (error) {
      say.refused(error)
    }
    await askAnew(queries, ['plan'])
  }
  async function remove() {
    try {
      await ask(api.DELETE('/api/v1/batches/{id}/photo', { params: { path: { id: b.id } } }))
    } catch (error) {
      say.refused(error)
    }
    await askAnew(queries, ['plan'])
  }
  return (
    <div className="log-photo">
      {b.photo && (
        <figure>
          <img src={`/api/v1/batches/${b.id}/photo?v=${version}`} alt={words.photo(b.name)} />
          <Button type="link" className="link" onClick={() => void remove()}>
            {words.removePhoto}
          </Button>
        </figure>
      )}
      <OpenFile label={words.addPhoto} accept="image/jpeg,image/png" open={put}>
        <Button>{words.addPhoto}</Button>
      </OpenFile>
      <small className="soft">{words.photoRules}</small>
    </div>
  )
}
