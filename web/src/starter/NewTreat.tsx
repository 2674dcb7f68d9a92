import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Radio, Select } from 'antd'
import { useRef, useState } from 'react'
import { api, ask, Refused } from '../api/client'
import { newKey } from '../device/register'
import type { Family } from '../api/families'
import { Field } from '../kit/Field'
import { Glyph } from '../kit/glyphs'
import { Sheet } from '../kit/Sheet'
import './starter.css'
import { words } from './words'

/** A treat is made where it is missed: of a family, as its tile is picked, with all that it needs. */
export function NewTreat({ close, made }: { close: () => void; made: (id: string) => void }) {
  const queries = useQueryClient()
  const outset = useQuery({ queryKey: ['starter'], queryFn: () => ask(api.GET('/api/v1/starter', {})) })
  const [family, setFamily] = useState<Family>()
  const [picks, setPicks] = useState<Record<string, string>>({})
  const key = useRef(newKey())
  const add = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/v1/starter/treats', {
          body: { family: family!, picks },
          params: { header: { 'Idempotency-Key': key.current } },
        }),
      ),
    onSuccess: async ({ treats }) => {
      await Promise.all(
        ['treats', 'ingredients', 'starter', 'mixes', 'stock', 'supplies'].map((k) =>
          queries.invalidateQueries({ queryKey: [k] }),
        ),
      )
      made(treats[0]!)
    },
    onError: () => {
      key.current = newKey()
    },
  })
  const tile = outset.data?.tiles.find((t) => t.family === family)
  return (
    <Sheet
      title={words.newTreat}
      close={close}
      okText={words.newTreatOk}
      onOk={family ? () => add.mutate() : undefined}
    >
      <p className="soft">{words.newTreatLead}</p>
      {outset.isPending && (
        <p className="loading" role="status">
          {words.loading}
        </p>
      )}
      <Radio.Group
        className="new-treat"
        aria-label={words.newTreatKind}
        value={family}
        onChange={(e) => {
          setFamily(e.target.value as Family)
          setPicks({})
        }}
        options={outset.data?.tiles.map((t) => ({
          value: t.family,
          label: (
            <>
              <Glyph family={t.family as Family} size={20} /> <b>{t.name}</b>
            </>
          ),
        }))}
      />
      {tile?.picks.map((p) => (
        <Field key={p.id} label={p.name}>
          <Select
            aria-label={p.name}
            value={picks[p.id] ?? p.options[0]!.id}
            options={p.options.map((o) => ({ value: o.id, label: o.name }))}
            onChange={(id) => setPicks({ ...picks, [p.id]: id })}
            style={{ width: '100%' }}
          />
        </Field>
      ))}
      {[outset.error, add.error].map(
        (e, i) =>
          e instanceof Refused && (
            <p key={i} className="fault" role="alert">
              {e.message}
            </p>
          ),
      )}
    </Sheet>
  )
}
