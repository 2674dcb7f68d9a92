import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Checkbox, Input, InputNumber, Select, Switch } from 'antd'
import { api, ask, askTagged, etag, type Schemas } from '../api/client'
import { useDocument } from '../device/useDocument'
import { OnlyHere, copy, useAddress } from '../kit/address'
import { Field } from '../kit/Field'
import { useSay } from '../kit/say'
import { TimeOfDay } from '../kit/TimeOfDay'
import { words } from './words'

type Settings = Schemas['AskSettings']

/** The page on which customers ask: whether it is open, under which address, and what it offers. */
export function AskSettings() {
  const queries = useQueryClient()
  const say = useSay()
  const stored = useQuery({
    queryKey: ['ask-page'],
    queryFn: () => askTagged(api.GET('/api/v1/ask-page', {})),
  })
  const treats = useQuery({ queryKey: ['treats'], queryFn: () => ask(api.GET('/api/v1/treats', {})) })
  const form = useDocument(
    'ask-page',
    { title: words.title, to: '/kitchen' },
    stored,
    (body: Settings, revision) =>
      ask(api.PUT('/api/v1/ask-page', { body, params: { header: { 'If-Match': etag(revision) } } })),
    () => {
      void queries.invalidateQueries({ queryKey: ['ask-page'] })
      say.done('ask-page', words.saved)
    },
  )
  const s = form.value
  const to = useAddress(`/ask/${s?.slug ?? ''}`)
  if (!s) return null
  const set = (change: Partial<Settings>) => form.set({ ...s, ...change })
  const open = stored.data?.data.open && stored.data.data.slug === s.slug
  return (
    <form
      className="settings-part"
      aria-labelledby="settings-ask"
      noValidate
      onSubmit={(e) => {
        e.preventDefault()
        form.save()
      }}
    >
      <h2 id="settings-ask">{words.title}</h2>
      {form.notice}
      <p className="soft">{words.lead}</p>
      <Field label={words.open} group>
        <Switch aria-label={words.open} checked={s.open} onChange={(x) => set({ open: x })} />
      </Field>
      <Field label={words.slug} fault={form.refused?.at('slug')} help={to.href}>
        <Input value={s.slug} onChange={(e) => set({ slug: e.target.value })} />
      </Field>
      {open && (
        <p>
          <a href={`/ask/${s.slug}`} target="_blank" rel="noreferrer">
            {words.look}
          </a>{' '}
          <Button
            type="link"
            className="link"
            onClick={() => void copy(to.href).then((ok) => ok && say.done('copied', words.copied))}
          >
            {words.copy}
          </Button>
          <OnlyHere here={to.here} />
        </p>
      )}
      <Field label={words.hello} fault={form.refused?.at('hello')}>
        <Input.TextArea
          rows={3}
          maxLength={1000}
          placeholder={words.helloExample}
          value={s.hello}
          onChange={(e) => set({ hello: e.target.value })}
        />
      </Field>
      <Field label={words.notice} help={words.noticeHelp}>
        <InputNumber min={0} max={60} value={s.notice} onChange={(n) => set({ notice: n ?? 0 })} />
      </Field>
      <Field label={words.weekdays} group fault={form.refused?.at('weekdays') ?? form.refused?.at('to')}>
        <span className="ask-days">
          <Checkbox.Group
            aria-label={words.weekdays}
            value={s.weekdays}
            options={words.days.map((label, value) => ({ label, value }))}
            onChange={(weekdays) => set({ weekdays })}
          />
          <TimeOfDay label={words.from} value={s.from} set={(from) => set({ from })} />{' '}
          <TimeOfDay label={words.to} value={s.to} set={(x) => set({ to: x })} />
        </span>
      </Field>
      <Field label={words.delivers} group>
        <Switch aria-label={words.delivers} checked={s.delivers} onChange={(x) => set({ delivers: x })} />
      </Field>
      <Field label={words.hidden} help={words.hiddenHelp}>
        <Select
          mode="multiple"
          value={s.hidden}
          optionFilterProp="label"
          options={(treats.data?.treats ?? []).map((t) => ({ value: t.id, label: t.name }))}
          onChange={(hidden: string[]) => set({ hidden })}
        />
      </Field>
      {form.dirty && (
        <Button type="primary" htmlType="submit" loading={form.saving}>
          {words.save}
        </Button>
      )}
    </form>
  )
}
