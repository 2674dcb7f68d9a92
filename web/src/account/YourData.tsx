import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, ask, Refused } from '../api/client'
import { Download } from '../kit/Download'
import { Fault } from '../kit/Field'
import { OpenFile } from '../kit/OpenFile'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import { SettingsPages } from './SettingsPages'
import { useLeaving } from './useLeaving'
import { words } from './words'
import './account.css'
import './settings.css'

const mostBytes = 64 * 2 ** 20

/** All of a kitchen's data: out as one file, in again, and gone. */
export default function YourData() {
  return (
    <section className="wide settings">
      <h1>{words.data}</h1>
      <SettingsPages />
      <section className="settings-part" aria-labelledby="data-out">
        <h2 id="data-out">{words.takeOut}</h2>
        <p>{words.takeOutHelp}</p>
        <Download className="button-link" href="/api/v1/kitchen.zip" download="kitchen.zip">
          {words.fetchAll}
        </Download>
        <p className="soft">
          {words.oneCustomer} <Link to="/customers">{words.customers}</Link>
        </p>
      </section>
      <TakeIn />
      <Leave />
    </section>
  )
}

/** A file of another kitchen is taken in, all of it or nothing. */
function TakeIn() {
  const queries = useQueryClient()
  const say = useSay()
  const [busy, setBusy] = useState(false)
  const [fault, setFault] = useState<string>()
  async function take(file: File) {
    if (file.size > mostBytes) return setFault(words.fileTooLarge)
    setBusy(true)
    setFault(undefined)
    try {
      const taken = await ask(
        api.POST('/api/v1/kitchen.zip', {
          body: file as unknown as string,
          bodySerializer: (b) => b as unknown as BodyInit,
          headers: { 'Content-Type': 'application/zip' },
        }),
      )
      say.done('taken', words.takenIn(taken.orders, taken.treats))
      await queries.invalidateQueries()
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setFault(error.message)
    } finally {
      setBusy(false)
    }
  }
  return (
    <section className="settings-part" aria-labelledby="data-in">
      <h2 id="data-in">{words.takeIn}</h2>
      <p>{words.takeInHelp}</p>
      <OpenFile label={words.chooseFile} accept=".zip,application/zip" open={take}>
        <Button loading={busy}>{words.chooseFile}</Button>
      </OpenFile>
      <Fault>{fault}</Fault>
    </section>
  )
}

/** The kitchen is to go, in a week; until then it can be kept. */
function Leave() {
  const kitchen = useKitchen()
  const { leave, stay } = useLeaving()
  const at = kitchen.session.goneAt
  return (
    <section className="settings-part" aria-labelledby="data-gone">
      <h2 id="data-gone">{words.leave}</h2>
      <p>{words.leaveHelp}</p>
      <ul>
        {words.leaveRemains.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      {kitchen.session.toTry ? (
        <p>{words.toTry(kitchen.moment(at!))}</p>
      ) : at ? (
        <p>
          <b className="trouble">{words.goesAt(kitchen.moment(at))}</b>{' '}
          <Button type="primary" onClick={() => void stay()}>
            {words.keepIt}
          </Button>
        </p>
      ) : (
        <Button danger onClick={() => void leave()}>
          {words.leaveNow}
        </Button>
      )}
    </section>
  )
}
