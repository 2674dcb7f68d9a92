import { App, Button, Input } from 'antd'
import { type FormEvent, useState } from 'react'
import { api, ask, Refused } from '../api/client'
import { Field } from '../kit/Field'
import { words } from './words'
import './account.css'

/** A new password, for whoever has the present one. */
export function Password() {
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
      void message.success(words.passwordChangedYoureSignedOut)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  const field = (label: string, value: string, set: (s: string) => void, path: string, autoComplete: string) => (
    <Field label={label} fault={refused?.at(path)}>
      <Input.Password value={value} onChange={(e) => set(e.target.value)} autoComplete={autoComplete} />
    </Field>
  )
  return (
    <form onSubmit={(e) => void save(e)} className="settings-part" noValidate>
      <h2>{words.password}</h2>
      {field(words.currentPassword, present, setPresent, 'present', 'current-password')}
      {field(words.newPassword, fresh, setFresh, 'new', 'new-password')}
      <Button htmlType="submit" disabled={!present || !fresh}>
        {words.changePassword}
      </Button>
    </form>
  )
}
