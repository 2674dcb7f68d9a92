import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { api, ask, Refused } from '../api/client'
import { Fault, Field } from '../kit/Field'
import { OpenFile } from '../kit/OpenFile'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'

const mostBytes = 5 * 2 ** 20
const path = '/api/v1/kitchen/logo'

/** The kitchen's logo: it is saved as soon as it is chosen. */
export function Logo({ is }: { is: boolean }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const [fault, setFault] = useState<string>()
  const [version, setVersion] = useState(0)
  async function tried(how: () => Promise<unknown>, says: string) {
    try {
      await how()
      setFault(undefined)
      setVersion((v) => v + 1)
      await queries.invalidateQueries({ queryKey: ['kitchen'] })
      say.done('logo', says)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setFault(error.message)
    }
  }
  const put = (file: File) => {
    if (file.size > mostBytes) return setFault(words.logoTooLarge)
    return tried(
      () =>
        ask(
          api.PUT(path, {
            body: file as never,
            bodySerializer: (body: unknown) => body as Blob,
            headers: { 'Content-Type': 'image/jpeg' }, // or a PNG: what it is, the server sees
          }),
        ),
      words.logoSaved,
    )
  }
  return (
    <Field label={words.logo} help={words.logoHelp} group>
      <span className="logo-field">
        {is && <img src={`${path}?v=${version}`} alt={words.logoOf(kitchen.session.kitchen ?? '')} />}
        <OpenFile label={words.chooseLogo} accept="image/png,image/jpeg" open={put}>
          <Button>{words.chooseLogo}</Button>
        </OpenFile>
        {is && (
          <Button onClick={() => void tried(() => ask(api.DELETE(path, {})), words.logoGone)}>
            {words.removeLogo}
          </Button>
        )}
      </span>
      <Fault>{fault}</Fault>
    </Field>
  )
}
