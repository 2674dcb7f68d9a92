import { useQueryClient } from '@tanstack/react-query'
import { Button, Input, Segmented } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { newKey } from '../device/register'
import { Face } from '../kit/Face'
import { Fault, Field } from '../kit/Field'
import { useSay } from '../kit/say'
import { Link } from '../shell/Go'
import { useKitchen } from '../shell/kitchen'
import { scalesOf, weight } from './pot'
import { useSensors } from './sensors'
import { words } from './words'
import './pots.css'

type Sensor = Schemas['PotsSensor']
type Kind = Sensor['kind']

/** Thermometers and scales of the kitchen, and how a real one gets to it. */
export default function Instruments() {
  const queries = useQueryClient()
  const say = useSay()
  const sensors = useSensors()
  const [adding, setAdding] = useState<Kind>()
  const [link, setLink] = useState<{ id: string; path: string; unit: Sensor['unit'] }>()
  if (!sensors.data) return <Face title={words.instruments} of={[sensors]} />
  async function renew(s: Sensor) {
    try {
      const made = await ask(api.POST('/api/v1/sensors/{id}/link', { params: { path: { id: s.id } } }))
      setLink({ id: s.id, path: made.path!, unit: s.unit })
    } catch (error) {
      say.refused(error)
    }
  }
  async function remove(s: Sensor) {
    try {
      await ask(api.DELETE('/api/v1/sensors/{id}', { params: { path: { id: s.id } } }))
      if (link?.id === s.id) setLink(undefined)
      await askAnew(queries, ['pots'])
      say.done('sensor', words.removed(s.name))
    } catch (error) {
      say.refused(error)
    }
  }
  return (
    <section className="wide instruments">
      <header className="work-head">
        <h1>{words.instruments}</h1>
        <span className="head-acts">
          <Button onClick={() => setAdding('probe')}>{words.addProbe}</Button>
          <Button onClick={() => setAdding('scale')}>{words.addScale}</Button>
        </span>
      </header>
      {sensors.data.sensors.length === 0 && !adding && <p className="empty">{words.none}</p>}
      {adding && (
        <Add
          key={adding}
          kind={adding}
          done={(made) => {
            setAdding(undefined)
            setLink(made?.path ? { id: made.id, path: made.path, unit: made.unit } : undefined)
          }}
        />
      )}
      {sensors.data.sensors.length > 0 && (
        <ul className="sensor-list">
          {sensors.data.sensors.map((s) => (
            <li key={s.id}>
              <b>{s.name}</b>
              <span>
                {words[s.kind]}, {words.units[s.unit]} · <Says s={s} />
                {s.pot && (
                  <>
                    {' '}
                    · <Link to={`/bench/bowls/${s.pot}`}>{words.atBowl}</Link>
                  </>
                )}
              </span>
              {!s.simulated && <Button onClick={() => void renew(s)}>{words.newLink}</Button>}
              <Button onClick={() => void remove(s)}>{words.remove}</Button>
              {link?.id === s.id && <SecretLink path={link.path} unit={link.unit} close={() => setLink(undefined)} />}
            </li>
          ))}
        </ul>
      )}
      <p>
        <Link to="/bench/bowls/new">{words.begin}</Link> · <Link to="/bench">{words.backToBench}</Link>
      </p>
    </section>
  )
}

function Says({ s }: { s: Sensor }) {
  const kitchen = useKitchen()
  const { temp, degree } = scalesOf(kitchen)
  if (s.simulated) return words.isSimulated
  if (s.last === undefined || !s.lastAt) return words.saidNothing
  return words.lastSaid(
    s.kind === 'probe' ? `${temp(s.last)} ${degree}` : weight(kitchen, s.last),
    kitchen.time(s.lastAt),
  )
}

/** The link that a device posts to, which is shown once, and how it does. */
function SecretLink({ path, unit, close }: { path: string; unit: Sensor['unit']; close: () => void }) {
  const say = useSay()
  const url = location.origin + path
  const example = words.curl(url, { C: 31.2, F: 88.2, g: 118, oz: 4.2 }[unit], unit)
  return (
    <div className="secret-link" role="status">
      <p>
        <b>{words.yourLink}</b> {words.linkHow}
      </p>
      <Input readOnly value={url} aria-label={words.yourLink} onFocus={(e) => e.target.select()} />
      <p className="soft">{words.example}</p>
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex -- it scrolls where it is narrow */}
      <pre tabIndex={0}>{example}</pre>
      <Button
        onClick={() =>
          void navigator.clipboard?.writeText(url).then(
            () => say.done('copied', words.copied),
            () => {}, // it stands there to be selected
          )
        }
      >
        {words.copy}
      </Button>{' '}
      <Button onClick={close}>{words.close}</Button>
    </div>
  )
}

function Add({ kind, done }: { kind: Kind; done: (made?: Schemas['PotsLinked']) => void }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const { fahrenheit, weightUnit } = scalesOf(kitchen)
  const [name, setName] = useState('')
  const [unit, setUnit] = useState<Sensor['unit']>(
    kind === 'probe' ? (fahrenheit ? 'F' : 'C') : (weightUnit as 'g' | 'oz'),
  )
  const [simulated, setSimulated] = useState(false)
  const [refused, setRefused] = useState<Refused>()
  const [key] = useState(newKey)
  async function add() {
    const body = { kind, name: name.trim() || words[kind], unit, simulated }
    try {
      const made = await ask(api.POST('/api/v1/sensors', { body, params: { header: { 'Idempotency-Key': key } } }))
      await askAnew(queries, ['pots'])
      say.done('sensor', words.added(made.name))
      done(made)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  return (
    <form
      className="sensor-add"
      noValidate
      onSubmit={(e) => {
        e.preventDefault()
        void add()
      }}
    >
      <h2>{kind === 'probe' ? words.addProbe : words.addScale}</h2>
      <Field label={words.whichKind}>
        <Segmented
          value={simulated ? 'simulated' : 'real'}
          options={[
            { value: 'real', label: words.real },
            { value: 'simulated', label: words.pretend },
          ]}
          onChange={(v) => setSimulated(v === 'simulated')}
        />
      </Field>
      <Field label={words.nameOf} fault={refused?.at('name')}>
        <Input value={name} maxLength={60} placeholder={words[kind]} onChange={(e) => setName(e.target.value)} />
      </Field>
      <Field label={words.unit} fault={refused?.at('unit')}>
        <Segmented
          value={unit}
          options={(kind === 'probe' ? (['C', 'F'] as const) : (['g', 'oz'] as const)).map((value) => ({
            value,
            label: words.units[value],
          }))}
          onChange={(u: Sensor['unit']) => setUnit(u)}
        />
      </Field>
      <Fault>{refused?.message}</Fault>
      <Button type="primary" htmlType="submit">
        {words.add}
      </Button>{' '}
      <Button onClick={() => done()}>{words.close}</Button>
    </form>
  )
}
