import { Button, Checkbox, Input, InputNumber } from 'antd'
import { useState } from 'react'
import { newKey } from '../device/register'
import { remembered } from './device'
import type { Act, Waits } from './queue'
import { useTimers } from './timers'
import { words } from './words'
import './bench.css'

const clockOf = (left: number) => `${Math.floor(left / 60)}:${String(Math.floor(left % 60)).padStart(2, '0')}`

/** What waits where, for how long yet; and a timer of one's own. */
export function Timers({ waiting, act }: { waiting: Waits[]; act: (a: Act, title: string) => void }) {
  const timers = useTimers(waiting)
  const [setting, setSetting] = useState(false)
  return (
    <div className="timers-of no-print">
      {timers.length > 0 && (
        <ul className="timers" aria-label={words.timers}>
          {timers.map((t) => (
            <li key={t.id} className={t.left <= 0 ? 'ringing' : ''}>
              <b>{t.left > 0 ? clockOf(t.left) : words.now}</b>
              <span>
                {t.name}
                {t.place && <small> · {t.place}</small>}
                {t.waits && <small> · {words.waits}</small>}
              </span>
              <Button
                size="small"
                aria-label={words.stopOf(t.name)}
                onClick={() => act({ kind: 'stop', id: t.id }, words.stopOf(t.name))}
              >
                {t.left > 0 ? words.stop : words.dismiss}
              </Button>
            </li>
          ))}
        </ul>
      )}
      {setting ? (
        <NewTimer
          set={(name, minutes) => {
            const seconds = Math.round(minutes * 60)
            const everywhere = remembered.get('everywhere')
            act({ kind: 'timer', id: newKey(), name, place: '', seconds, everywhere }, words.timerOf(name))
            setSetting(false)
          }}
        />
      ) : (
        <Button type="link" className="link" onClick={() => setSetting(true)}>
          {words.aTimer}
        </Button>
      )}
      {typeof Notification !== 'undefined' && Notification.permission === 'default' && timers.length > 0 && (
        <Button type="link" className="link" onClick={() => void Notification.requestPermission()}>
          {words.tellMe}
        </Button>
      )}
    </div>
  )
}

function NewTimer({ set }: { set: (name: string, minutes: number) => void }) {
  const [name, setName] = useState('')
  const [minutes, setMinutes] = useState<number | null>(10)
  const [everywhere, setEverywhere] = useState(() => remembered.get('everywhere'))
  return (
    <form
      className="new-timer"
      onSubmit={(e) => {
        e.preventDefault()
        if (minutes) set(name.trim() || words.timer, minutes)
      }}
    >
      <Input
        aria-label={words.whatWaits}
        placeholder={words.whatWaits}
        value={name}
        maxLength={200}
        onChange={(e) => setName(e.target.value)}
      />
      <InputNumber
        aria-label={words.minutesLong}
        value={minutes}
        min={0.1}
        max={2880}
        suffix={words.min}
        controls={false}
        onChange={setMinutes}
      />
      <Checkbox
        checked={everywhere}
        onChange={(e) => {
          remembered.set('everywhere', e.target.checked)
          setEverywhere(e.target.checked)
        }}
      >
        {words.everywhere}
      </Checkbox>
      <Button htmlType="submit" type="primary" disabled={!minutes}>
        {words.setIt}
      </Button>
    </form>
  )
}
