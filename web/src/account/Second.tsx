import { useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { Field } from '../kit/Field'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'
import './account.css'

/** The second step at the door: a code that an authenticator shows, and codes on paper. */
export function Second({ second }: { second: Schemas['AccountSecondStep'] }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const [outline, setOutline] = useState<Schemas['AccountOutline']>()
  const [paper, setPaper] = useState<string[]>()
  const [code, setCode] = useState('')
  const [refused, setRefused] = useState<Refused>()
  async function tried(how: () => Promise<unknown>) {
    try {
      await how()
      setRefused(undefined)
      await askAnew(queries, ['account'])
    } catch (error) {
      if (error instanceof Refused && error.at('code')) setRefused(error)
      else say.refused(error)
    }
  }
  const begin = () => tried(async () => setOutline(await ask(api.POST('/api/v1/account/second-step', {}))))
  const tell = () =>
    tried(async () => {
      const made = await ask(api.PUT('/api/v1/account/second-step', { body: { code } }))
      setPaper(made.codes ?? [])
      setOutline(undefined)
      setCode('')
    })
  const renew = () =>
    tried(async () => setPaper((await ask(api.POST('/api/v1/account/recovery-codes', {}))).codes ?? []))
  const end = () =>
    tried(async () => {
      await ask(api.DELETE('/api/v1/account/second-step', {}))
      setPaper(undefined)
      say.done('second', words.secondOff)
    })
  return (
    <section className="settings-part" aria-labelledby="you-second">
      <h2 id="you-second">{words.second}</h2>
      <p className="soft">{words.secondHelp}</p>
      {second.since && (
        <p>
          {words.secondSince(kitchen.moment(second.since))} <b>{words.paperLeft(second.left)}</b>
        </p>
      )}
      {paper && (
        <div className="paper-codes">
          <p role="status">{words.paperHelp}</p>
          <ol aria-label={words.paperCodes}>
            {paper.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ol>
          <Button onClick={() => void navigator.clipboard.writeText(paper.join('\n'))}>{words.copy}</Button>{' '}
          <Button onClick={() => setPaper(undefined)}>{words.haveThem}</Button>
        </div>
      )}
      {outline && (
        <form
          className="outline"
          noValidate
          onSubmit={(e) => {
            e.preventDefault()
            void tell()
          }}
        >
          <svg
            role="img"
            aria-label={words.qr}
            viewBox={`-4 -4 ${outline.size + 8} ${outline.size + 8}`}
            width="190"
            height="190"
          >
            <rect x="-4" y="-4" width={outline.size + 8} height={outline.size + 8} fill="#fff" />
            <path d={outline.path} fill="#000" shapeRendering="crispEdges" />
          </svg>
          <div>
            <p>{words.takeItIn}</p>
            <p>
              <code>{outline.secret.replace(/(.{4})/g, '$1 ')}</code>
            </p>
            <Field label={words.code} fault={refused?.at('code')}>
              <Input
                autoFocus
                inputMode="numeric"
                autoComplete="one-time-code"
                value={code}
                maxLength={40}
                style={{ width: 160 }}
                onChange={(e) => setCode(e.target.value)}
              />
            </Field>
            <Button type="primary" htmlType="submit" disabled={!code}>
              {words.secondOn}
            </Button>{' '}
            <Button onClick={() => setOutline(undefined)}>{words.leaveIt}</Button>
          </div>
        </form>
      )}
      {!second.since && !outline && <Button onClick={() => void begin()}>{words.secondBegin}</Button>}
      {second.since && (
        <p>
          <Button onClick={() => void renew()}>{words.newPaper}</Button>{' '}
          <Button onClick={() => void end()}>{words.secondEnd}</Button>
        </p>
      )}
    </section>
  )
}
