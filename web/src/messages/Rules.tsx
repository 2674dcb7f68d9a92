import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input, InputNumber, Segmented, Switch } from 'antd'
import type { TextAreaRef } from 'antd/es/input/TextArea'
import { useDeferredValue, useRef, useState } from 'react'
import { Link } from 'react-router'
import { api, ask, askTagged, etag, type Schemas } from '../api/client'
import { useDocument } from '../device/useDocument'
import { Face } from '../kit/Face'
import { Field } from '../kit/Field'
import { useSay } from '../kit/say'
import { TimeOfDay } from '../kit/TimeOfDay'
import { Paper } from './Letter'
import { words } from './words'

type Settings = Schemas['MessagesSettings']
type Choice = Schemas['MessagesChoice']

/** What is told by itself: whether, when, how, and in which words. */
export function Rules() {
  const queries = useQueryClient()
  const say = useSay()
  const [kind, setKind] = useState<Choice['kind']>('quote')
  const stored = useQuery({
    queryKey: ['messages', 'settings'],
    queryFn: () => askTagged(api.GET('/api/v1/message-settings', {})),
  })
  const form = useDocument(
    'message-settings',
    { title: words.rules, to: '/messages/rules' },
    stored,
    (body: Settings, revision) =>
      ask(api.PUT('/api/v1/message-settings', { body, params: { header: { 'If-Match': etag(revision) } } })),
    () => {
      void queries.invalidateQueries({ queryKey: ['messages'] })
      say.done('message-settings', words.saved)
    },
  )
  const s = form.value
  if (!s) return <Face of={[stored]} />
  const n = s.kinds.findIndex((k) => k.kind === kind)
  const set = (change: Partial<Settings>) => form.set({ ...s, ...change })
  const setKindAt = (at: number, change: Partial<Choice>) =>
    set({ kinds: s.kinds.map((k, i) => (i === at ? { ...k, ...change } : k)) })
  const fault = (path: string) => form.refused?.at(path)
  return (
    <form
      className="rules"
      noValidate
      onSubmit={(e) => {
        e.preventDefault()
        form.save()
      }}
    >
      {form.notice}
      <div>
        <p className="soft">
          {s.demo ? words.demo : s.sender ? words.senderIs(s.sender) : words.noSender} {!s.public && words.noPublic}
        </p>
        {!s.public && <Link to="/kitchen">{words.settings}</Link>}
        <ul className="rules-list">
          {s.kinds.map((k, i) => (
            <li key={k.kind} className={k.kind === kind ? 'chosen' : undefined}>
              <button type="button" aria-current={k.kind === kind ? 'true' : undefined} onClick={() => setKind(k.kind)}>
                <b>{words.kinds[k.kind]}</b>
                <small className="soft">{words.when[k.kind]}</small>
              </button>
              <Switch
                aria-label={words.tell(words.kinds[k.kind]!)}
                checked={k.on}
                onChange={(on) => {
                  setKind(k.kind)
                  setKindAt(i, { on })
                }}
              />
              {fault(`kinds[${i}].on`) && (
                <span className="fault" role="alert">
                  {fault(`kinds[${i}].on`)}
                </span>
              )}
            </li>
          ))}
        </ul>
        <p>
          {words.replyTo(s.replyTo)} <Link to="/kitchen#shown">{words.settings}</Link>
        </p>
        <Field label={words.quiet} fault={fault('quietFrom') ?? fault('quietTo')} help={words.quietHelp} group>
          <span className="rules-hours">
            <TimeOfDay label={words.from} value={s.quietFrom} set={(quietFrom) => set({ quietFrom })} />
            <TimeOfDay label={words.until} value={s.quietTo} set={(quietTo) => set({ quietTo })} />
          </span>
        </Field>
      </div>
      <Wording
        key={kind}
        c={s.kinds[n]!}
        texts={s.texts}
        set={(change) => setKindAt(n, change)}
        fault={(path) => fault(`kinds[${n}].${path}`)}
      />
      {form.dirty && (
        <p className="rules-save">
          <Button type="primary" htmlType="submit" loading={form.saving}>
            {words.save}
          </Button>
        </p>
      )}
    </form>
  )
}

interface WordingProps {
  c: Choice
  texts: boolean
  set: (change: Partial<Choice>) => void
  fault: (path: string) => string | undefined
}

/** One kind: when, how, and its words beside how a customer would read them. */
function Wording({ c, texts, set, fault }: WordingProps) {
  const area = useRef<TextAreaRef>(null)
  const typed = useDeferredValue(c)
  const preview = useQuery({
    queryKey: ['messages', 'preview', typed.kind, typed.subject, typed.body],
    queryFn: ({ signal }) =>
      ask(
        api.POST('/api/v1/message-settings/preview', {
          body: { kind: typed.kind, subject: typed.subject, body: typed.body },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  })
  const put = (field: string) => {
    const at = area.current?.resizableTextArea?.textArea
    const from = at?.selectionStart ?? c.body.length
    set({ body: `${c.body.slice(0, from)}{${field}}${c.body.slice(at?.selectionEnd ?? from)}` })
    at?.focus()
  }
  return (
    <>
      <div className="wording">
        <h2>{words.kinds[c.kind]}</h2>
        <div className="wording-how">
          <Field label={words.by} fault={fault('way')}>
            <Segmented<Choice['way']>
              value={c.way}
              options={[
                { value: 'mail', label: words.byMail },
                { value: 'text', label: words.byText, disabled: !texts },
              ]}
              onChange={(way) => set({ way })}
            />
          </Field>
          {(c.kind === 'reminder' || c.kind === 'thanks') && (
            <Field label={words.days} fault={fault('days')}>
              <InputNumber min={0} max={60} value={c.days} onChange={(days) => set({ days: days ?? 0 })} />
            </Field>
          )}
          {(c.kind === 'day-before' || c.kind === 'thanks') && (
            <Field label={words.at} fault={fault('at')} group>
              <TimeOfDay label="" value={c.at} set={(at) => set({ at })} />
            </Field>
          )}
        </div>
        {c.way === 'mail' && (
          <Field label={words.subject} fault={fault('subject')}>
            <Input value={c.subject} maxLength={150} onChange={(e) => set({ subject: e.target.value })} />
          </Field>
        )}
        <Field label={words.body} fault={fault('body')}>
          <Input.TextArea
            ref={area}
            rows={13}
            maxLength={4000}
            value={c.body}
            onChange={(e) => set({ body: e.target.value })}
          />
        </Field>
        <p className="wording-fields">
          <span className="soft">{words.fields}</span>
          {(c.fields ?? []).map((f) => (
            <Button key={f} size="small" onClick={() => put(f)}>
              {words.fieldNames[f]}
            </Button>
          ))}
        </p>
        <p className="soft">{words.fieldsHelp}</p>
      </div>
      <aside className="wording-preview" aria-label={words.body}>
        <p className="soft">{preview.data?.whom ? words.preview(preview.data.whom) : words.previewEmpty}</p>
        {preview.isError ? (
          <p className="fault" role="alert">
            {preview.error.message}
          </p>
        ) : (
          preview.data && <Paper subject={c.way === 'mail' ? preview.data.subject : ''} body={preview.data.body} />
        )}
      </aside>
    </>
  )
}
