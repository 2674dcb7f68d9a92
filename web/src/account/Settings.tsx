import { useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Input, InputNumber, Segmented } from 'antd'
import { type FormEvent, useId, useState } from 'react'
import { Degrees } from '../kit/Degrees'
import { api, ask, askTagged, etag, Refused, type Schemas } from '../api/client'
import { Face } from '../kit/Face'
import { Readings } from './Readings'
import { TermsFields } from './Terms'

type Numbers = Schemas['AccountSettings']

const feet = 1 / 0.3048 // in a metre

/** The kitchen's own numbers, and the password. */
export default function Settings() {
  const { message } = App.useApp()
  const queries = useQueryClient()
  const ids = useId()
  const kitchen = useQuery({
    queryKey: ['kitchen'],
    queryFn: () => askTagged(api.GET('/api/v1/kitchen', {})),
  })
  const [edited, setK] = useState<Numbers>()
  const k = edited ?? kitchen.data?.data
  const [refused, setRefused] = useState<Refused>()
  if (!k) return <Face title="Kitchen settings" of={[kitchen]} />

  async function save(e: FormEvent) {
    e.preventDefault()
    if (!k || !kitchen.data) return
    try {
      setRefused(undefined)
      await ask(
        api.PUT('/api/v1/kitchen', { body: k, params: { header: { 'If-Match': etag(kitchen.data.revision) } } }),
      )
      await queries.invalidateQueries()
      void message.success('Saved. All figures are updated.')
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      if (error.status === 412) setK(error.problem.current as Numbers)
      setRefused(error)
      await kitchen.refetch()
    }
  }
  const us = k.units === 'us'
  const fault = (path: string) =>
    refused?.at(path) && (
      <span className="fault" role="alert">
        {refused.at(path)}
      </span>
    )
  const text = (key: 'name' | 'address' | 'hourly' | 'overhead', label: string, hint?: string) => (
    <label className="field">
      <span>{label}</span>
      <Input
        value={k[key]}
        onChange={(e) => setK({ ...k, [key]: e.target.value })}
        status={refused?.at(key) ? 'error' : undefined}
      />
      {hint && <small>{hint}</small>}
      {fault(key)}
    </label>
  )
  const number = (
    key: 'margin' | 'sureness' | 'altitude',
    label: string,
    hint: string,
    scale: number,
    unit: string,
  ) => (
    <label className="field" htmlFor={`${ids}${key}`}>
      <span>{label}</span>
      <InputNumber
        id={`${ids}${key}`}
        suffix={unit}
        value={Number((k[key] * scale).toFixed(key === 'altitude' ? 0 : 2))}
        onChange={(n) => n !== null && setK({ ...k, [key]: n / scale })}
        status={refused?.at(key) ? 'error' : undefined}
        style={{ width: 160 }}
      />
      <small>{hint}</small>
      {fault(key)}
    </label>
  )
  return (
    <section className="wide narrow-form">
      <h1>Kitchen settings</h1>
      <form onSubmit={(e) => void save(e)} className="columns" noValidate>
        <div>
          {text('name', 'Name')}
          {text('address', 'Address', 'For labels and quotes. Leave empty to tell none.')}
          <Readings k={k} set={(change) => setK({ ...k, ...change })} fault={fault} />
          <div className="field">
            <span id={`${ids}units`}>Amounts</span>
            <Segmented<'us' | 'metric'>
              aria-labelledby={`${ids}units`}
              value={k.units}
              onChange={(units) => setK({ ...k, units, cup: units })}
              options={[
                { value: 'us', label: 'US (oz, lb, in)' },
                { value: 'metric', label: 'Metric (g, kg, cm)' },
              ]}
            />
            <small>You can type either anywhere.</small>
          </div>
          <div className="field">
            <span id={`${ids}cup`}>Cup size in recipes</span>
            <Segmented<Numbers['cup']>
              aria-labelledby={`${ids}cup`}
              value={k.cup}
              onChange={(cup) => setK({ ...k, cup })}
              options={[
                { value: 'us', label: 'US, 237 mL' },
                { value: 'metric', label: 'metric, 250 mL' },
                { value: 'imperial', label: 'imperial, 284 mL' },
              ]}
            />
          </div>
          <div className="field">
            <span id={`${ids}source`}>How you melt chocolate</span>
            <Segmented<Numbers['source']>
              aria-labelledby={`${ids}source`}
              value={k.source}
              onChange={(source) => setK({ ...k, source })}
              options={[
                { value: 'microwave', label: 'in a microwave' },
                { value: 'bath', label: 'over a water bath' },
              ]}
            />
            <small>Sets the melting times. A treat can use another way for one of its pots.</small>
            {fault('source')}
          </div>
          <div className="field">
            <span id={`${ids}law`}>Allergen law for labels</span>
            <Segmented<Numbers['law']>
              aria-labelledby={`${ids}law`}
              value={k.law}
              onChange={(law) => setK({ ...k, law })}
              options={[
                { value: 'us', label: 'US law' },
                { value: 'eu', label: 'EU law' },
              ]}
            />
            <small>Check with your local authority which rules apply to you.</small>
            {fault('law')}
          </div>
        </div>
        <div>
          {text('hourly', 'Your hourly rate')}
          {text('overhead', 'Overhead per hour', 'Heat, light, wear and tear.')}
          {number('margin', 'Target margin', 'The share of the price you keep after all costs.', 100, '%')}
          {number(
            'sureness',
            'Safety level',
            'How often the pieces you start should be enough (95% to start with).',
            100,
            '%',
          )}
          <label className="field">
            <span>Kitchen temperature</span>
            <Degrees
              label="Kitchen temperature"
              width={160}
              us={us}
              value={k.room}
              set={(room) => room !== undefined && setK({ ...k, room })}
              wrong={!!refused?.at('room')}
            />
            <small>Used to work out the seed that cools the melt.</small>
            {fault('room')}
          </label>
          {number(
            'altitude',
            'Altitude',
            'Water boils at a lower temperature higher up, so candy is done sooner.',
            us ? feet : 1,
            us ? 'ft' : 'm',
          )}
          <label className="field">
            <span>My thermometer in boiling water shows</span>
            <Degrees
              label="My thermometer in boiling water shows"
              width={160}
              us={us}
              digits={1}
              value={k.boiling}
              set={(boiling) => setK({ ...k, boiling })}
              wrong={!!refused?.at('boiling')}
            />
            <small>
              More exact than altitude: it also corrects for weather and your thermometer. Leave empty to use altitude.
            </small>
            {fault('boiling')}
          </label>
        </div>
        <TermsFields terms={k.terms} shopping={k.shopping} set={(change) => setK({ ...k, ...change })} fault={fault} />
        <p>
          <Button type="primary" htmlType="submit">
            Save
          </Button>
          {refused && !refused.problem.errors?.length && (
            <span className="fault" role="alert">
              {' '}
              {refused.message}
            </span>
          )}
        </p>
      </form>
      <Password />
    </section>
  )
}

function Password() {
  const { message } = App.useApp()
  const [present, setPresent] = useState('')
  const [fresh, setFresh] = useState('')
  const [refused, setRefused] = useState<Refused>()
  async function save(e: FormEvent) {
    e.preventDefault()
    try {
      setRefused(undefined)
      await ask(api.PUT('/api/v1/password', { body: { present, new: fresh } }))
      setPresent('')
      setFresh('')
      void message.success('Password changed. You’re signed out everywhere else.')
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  const field = (label: string, value: string, set: (s: string) => void, path: string, autoComplete: string) => (
    <label className="field">
      <span>{label}</span>
      <Input.Password
        value={value}
        onChange={(e) => set(e.target.value)}
        autoComplete={autoComplete}
        status={refused?.at(path) ? 'error' : undefined}
      />
      {refused?.at(path) && (
        <span className="fault" role="alert">
          {refused.at(path)}
        </span>
      )}
    </label>
  )
  return (
    <form onSubmit={(e) => void save(e)} className="password" noValidate>
      <h2>Password</h2>
      {field('Current password', present, setPresent, 'present', 'current-password')}
      {field('New password', fresh, setFresh, 'new', 'new-password')}
      <Button htmlType="submit" disabled={!present || !fresh}>
        Change password
      </Button>
    </form>
  )
}
