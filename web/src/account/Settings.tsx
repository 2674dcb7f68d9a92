import { useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Input, InputNumber, Segmented } from 'antd'
import { type ReactNode, useId, useState } from 'react'
import { useDocument } from '../device/useDocument'
import { Field } from '../kit/Field'
import { Degrees } from '../kit/Degrees'
import { api, ask, askTagged, etag, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { Face } from '../kit/Face'
import { AskSettings } from '../ask/AskSettings'
import { Logo } from './Logo'
import { Readings } from './Readings'
import { Device, FirstEvening } from './Device'
import { SettingsPages } from './SettingsPages'
import './account.css'
import './settings.css'
import { TermsFields } from './Terms'
import { words } from './words'
import { Sheet } from '../kit/Sheet'

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
  const [asked, setAsked] = useState(false) // whether handovers keep their time on another clock
  const form = useDocument(
    'kitchen',
    { title: words.title, to: '/kitchen' },
    kitchen,
    (body: Numbers, revision, handovers?: 'clock' | 'instant') =>
      ask(
        api.PUT('/api/v1/kitchen', { body, params: { query: { handovers }, header: { 'If-Match': etag(revision) } } }),
      ),
    () => void askAnew(queries, ['kitchen']).then(() => message.success(words.saved)),
  )
  const { value: k, set: setK } = form
  const moves = form.refused?.problem.code === 'account.zone-moves-handovers'
  const refused = moves ? undefined : form.refused
  if (!k) return <Face title={words.title} of={[kitchen]} />
  function save(handovers?: 'clock' | 'instant') {
    setAsked(true)
    form.save(handovers)
  }
  const us = k.units === 'us'
  const fault = (path: string) => refused?.at(path)
  type Typed = 'name' | 'address' | 'hourly' | 'overhead' | 'public' | 'sender' | 'replyTo'
  const text = (key: Typed | 'taxStatement' | 'homeStatement', label: string, hint?: string) => (
    <Field label={label} fault={fault(key)} help={hint}>
      <Input value={k[key] ?? ''} onChange={(e) => setK({ ...k, [key]: e.target.value })} />
    </Field>
  )
  const number = (
    key: 'margin' | 'sureness' | 'altitude',
    label: string,
    hint: string,
    scale: number,
    unit: string,
  ) => (
    <Field label={label} fault={fault(key)} help={hint}>
      <InputNumber
        suffix={unit}
        value={Number((k[key] * scale).toFixed(key === 'altitude' ? 0 : 2))}
        onChange={(n) => n !== null && setK({ ...k, [key]: n / scale })}
        style={{ width: 160 }}
      />
    </Field>
  )
  const choose = <K extends 'units' | 'cup' | 'source' | 'law'>(
    key: K,
    label: string,
    options: { value: Numbers[K]; label: string }[],
    hint?: string,
  ) => (
    <Field label={label} fault={fault(key)} help={hint}>
      <Segmented<Numbers[K]>
        value={k[key]}
        options={options}
        onChange={(value) => setK({ ...k, ...(key === 'units' && { cup: value as Numbers['units'] }), [key]: value })}
      />
    </Field>
  )
  const degrees = (key: 'room' | 'boiling', label: string, hint: string, digits?: number) => (
    <Field label={label} fault={fault(key)} help={hint}>
      <Degrees
        label={label}
        width={160}
        us={us}
        digits={digits}
        value={k[key]}
        set={(value) => (key === 'boiling' || value !== undefined) && setK({ ...k, [key]: value })}
        wrong={!!refused?.at(key)}
      />
    </Field>
  )
  const part = (id: string, title: string, children: ReactNode) => (
    <section className="settings-part" id={id} aria-labelledby={`${ids}${id}`}>
      <h2 id={`${ids}${id}`}>{title}</h2>
      <div className="settings-fields">{children}</div>
    </section>
  )
  return (
    <section className="wide settings">
      <h1>{words.title}</h1>
      <SettingsPages />
      {form.notice}
      <form
        onSubmit={(e) => {
          e.preventDefault()
          save()
        }}
        noValidate
      >
        {part(
          'own',
          words.own,
          <>
            {text('name', words.name)}
            {text('address', words.address, words.addressHelp)}
            <Field label={words.customersKept} fault={fault('customersKept')} help={words.customersKeptHelp}>
              <InputNumber
                min={0}
                max={120}
                precision={0}
                suffix={words.months}
                value={k.customersKept || null}
                placeholder={words.forEver}
                onChange={(n) => setK({ ...k, customersKept: n ?? 0 })}
                style={{ width: 190 }}
              />
            </Field>
          </>,
        )}
        {part(
          'shown',
          words.shown,
          <>
            {text('public', words.public, words.publicHelp)}
            {text('sender', words.sender, words.senderHelp)}
            {text('replyTo', words.replyTo, words.replyToHelp)}
            {text('taxStatement', words.taxStatement, words.taxStatementHelp)}
            {text('homeStatement', words.homeStatement, words.homeStatementHelp)}
            <Logo is={k.logo ?? false} />
          </>,
        )}
        {part(
          'reading',
          words.reading,
          <>
            <Readings k={k} set={(change) => setK({ ...k, ...change })} fault={fault} />
            {choose(
              'units',
              words.amounts,
              [
                { value: 'us', label: words.us },
                { value: 'metric', label: words.metric },
              ],
              words.amountsHelp,
            )}
            {choose('cup', words.cup, [
              { value: 'us', label: words.cups.us },
              { value: 'metric', label: words.cups.metric },
              { value: 'imperial', label: words.cups.imperial },
            ])}
          </>,
        )}
        {part(
          'work',
          words.work,
          <>
            {text('hourly', words.hourly)}
            {text('overhead', words.overhead, words.overheadHelp)}
            {number('margin', words.margin, words.marginHelp, 100, '%')}
            {number('sureness', words.safety, words.safetyHelp, 100, '%')}
          </>,
        )}
        {part(
          'melting',
          words.melting,
          <>
            {choose(
              'source',
              words.melts,
              [
                { value: 'microwave', label: words.microwave },
                { value: 'bath', label: words.bath },
              ],
              words.meltsHelp,
            )}
            {degrees('room', words.room, words.roomHelp)}
            {number('altitude', words.altitude, words.altitudeHelp, us ? feet : 1, us ? 'ft' : 'm')}
            {degrees('boiling', words.boiling, words.boilingHelp, 1)}
          </>,
        )}
        {part(
          'labels',
          words.labels,
          choose(
            'law',
            words.law,
            [
              { value: 'us', label: words.laws.us },
              { value: 'eu', label: words.laws.eu },
            ],
            words.lawHelp,
          ),
        )}
        <div className="settings-part settings-terms">
          <TermsFields
            us={us}
            terms={k.terms}
            shopping={k.shopping}
            set={(change) => setK({ ...k, ...change })}
            fault={fault}
          />
        </div>
        <p className="settings-save">
          <Button type="primary" htmlType="submit" size="large" loading={form.saving}>
            {words.save}
          </Button>
          {form.dirty && (
            <Button type="link" onClick={form.drop}>
              {words.undoChanges}
            </Button>
          )}
          {refused && (
            <span className="fault" role={refused.problem.errors?.length ? 'status' : 'alert'}>
              {' '}
              {refused.problem.errors?.length ? words.marked : refused.message}
            </span>
          )}
        </p>
      </form>
      <AskSettings />
      <Device />
      <FirstEvening />
      {asked && moves && (
        <Sheet title={words.zone} close={() => setAsked(false)}>
          <p>{words.zoneLead}</p>
          <p>
            <Button type="primary" onClick={() => save('clock')}>
              {words.zoneClock}
            </Button>
            <br />
            <small className="soft">{words.zoneClockWhy}</small>
          </p>
          <p>
            <Button onClick={() => save('instant')}>{words.zoneInstant}</Button>
            <br />
            <small className="soft">{words.zoneInstantWhy}</small>
          </p>
        </Sheet>
      )}
    </section>
  )
}
