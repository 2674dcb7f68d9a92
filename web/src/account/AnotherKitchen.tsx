import { useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { type FormEvent, useState } from 'react'
import { api, ask, Refused } from '../api/client'
import { Fault, Field } from '../kit/Field'
import { guessedCountry, guessedZone } from '../kit/places'
import { PlaceFields } from './PlaceFields'
import { words } from './words'
import './account.css'

/** Opens a kitchen of one's own beside those that one works in. */
export function AnotherKitchen({ first = false }: { first?: boolean }) {
  const queries = useQueryClient()
  const [open, setOpen] = useState(false)
  const [f, setF] = useState({ kitchen: '', country: guessedCountry(), timeZone: guessedZone() })
  const [refused, setRefused] = useState<Refused>()
  const [busy, setBusy] = useState(false)
  async function make(e: FormEvent) {
    e.preventDefault()
    setBusy(true)
    try {
      queries.setQueryData(['session'], await ask(api.POST('/api/v1/account/kitchens', { body: f })))
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    } finally {
      setBusy(false)
    }
  }
  if (!open) return <Button onClick={() => setOpen(true)}>{first ? words.openOne : words.openAnother}</Button>
  return (
    <form className="narrow" noValidate onSubmit={(e) => void make(e)}>
      <Field label={words.kitchenName} fault={refused?.at('kitchen')}>
        <Input
          autoFocus
          value={f.kitchen}
          maxLength={100}
          autoComplete="organization"
          onChange={(e) => setF({ ...f, kitchen: e.target.value })}
        />
      </Field>
      <PlaceFields at={f} set={(change) => setF({ ...f, ...change })} refused={refused} />
      <Fault>
        {refused && !['kitchen', 'country', 'timeZone'].some((k) => refused.at(k)) ? refused.message : undefined}
      </Fault>
      <Button htmlType="submit" loading={busy}>
        {words.createKitchen}
      </Button>{' '}
      <Button onClick={() => setOpen(false)}>{words.leaveIt}</Button>
    </form>
  )
}
