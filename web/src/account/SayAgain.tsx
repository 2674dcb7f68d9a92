import { useQueryClient } from '@tanstack/react-query'
import { Input } from 'antd'
import { useEffect, useRef, useState } from 'react'
import { askBy } from '../api/again'
import { api, ask, Refused } from '../api/client'
import { Fault, Field } from '../kit/Field'
import { Sheet } from '../kit/Sheet'
import { words } from './words'

/** Asks for the password once more, before what cannot be got back. */
export function SayAgain() {
  const queries = useQueryClient()
  const [open, setOpen] = useState(false)
  const [password, setPassword] = useState('')
  const [refused, setRefused] = useState<Refused>()
  const answer = useRef<(sure: boolean) => void>(() => {})
  useEffect(() => {
    askBy(
      () =>
        new Promise((resolve) => {
          answer.current = resolve
          setOpen(true)
        }),
    )
    return () => askBy()
  }, [])
  function close(sure: boolean) {
    answer.current(sure)
    setOpen(false)
    setPassword('')
    setRefused(undefined)
  }
  async function confirm() {
    try {
      await ask(api.POST('/api/v1/session/confirm', { body: { password } }))
      void queries.invalidateQueries({ queryKey: ['session'] })
      close(true)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  if (!open) return null
  return (
    <Sheet title={words.sayAgain} close={() => close(false)} onOk={() => void confirm()} okText={words.goOn}>
      <p>{words.sayAgainWhy}</p>
      <Field label={words.password} fault={refused?.at('password')}>
        <Input.Password
          autoFocus
          value={password}
          autoComplete="current-password"
          onChange={(e) => setPassword(e.target.value)}
        />
      </Field>
      <Fault>{refused && !refused.at('password') ? refused.message : undefined}</Fault>
    </Sheet>
  )
}
