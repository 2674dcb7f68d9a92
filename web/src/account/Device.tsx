import { useQuery } from '@tanstack/react-query'
import { Button, Switch } from 'antd'
import { Link } from 'react-router'
import { api, ask } from '../api/client'
import { canKeep } from '../device/register'
import { useTakeBack } from '../starter/undo'
import { keysEvent, setShortcuts, useShortcuts } from '../shell/shortcuts'
import { Field } from '../kit/Field'
import { words } from './words'
import './account.css'

/** What holds for this device alone. */
export function Device() {
  const on = useShortcuts()
  return (
    <section className="settings-part" aria-labelledby="settings-device">
      <h2 id="settings-device">{words.device}</h2>
      <Field label={words.keys} help={words.keysHelp} group>
        <span>
          <Switch aria-label={words.keys} checked={on} onChange={setShortcuts} />{' '}
          <Button type="link" onClick={() => window.dispatchEvent(new Event(keysEvent))}>
            {words.allKeys}
          </Button>
        </span>
      </Field>
      <p className="soft">{canKeep ? words.kept : words.notKept}</p>
    </section>
  )
}

/** What the first evening made, and how to take it back. */
export function FirstEvening() {
  const outset = useQuery({
    queryKey: ['starter'],
    queryFn: () => ask(api.GET('/api/v1/starter', {})),
    staleTime: 60_000,
  })
  const { undo } = useTakeBack()
  return (
    <section className="settings-part" aria-labelledby="settings-first">
      <h2 id="settings-first">{words.starter}</h2>
      {outset.data?.run && (
        <p>
          <Button danger loading={undo.isPending} onClick={() => undo.mutate()}>
            {words.undo}
          </Button>{' '}
          <small className="soft">{words.undoHelp}</small>
        </p>
      )}
      <p>
        <Link to="/start">{words.again}</Link> · <Link to="/bring">{words.bring}</Link>
      </p>
    </section>
  )
}
