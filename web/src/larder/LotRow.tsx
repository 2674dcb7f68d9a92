import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { api, ask, etag, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { Day } from '../kit/Day'
import { useSay } from '../kit/say'
import { Link } from '../shell/Go'
import { useKitchen } from '../shell/kitchen'
import { date } from './dates'
import { words } from './words'

type Full = Schemas['LarderItemInFull']

const origins: Record<Schemas['LarderShownLot']['origin'], string> = {
  bought: 'bought',
  shopping: 'bought',
  counted: 'counted',
  reclaimed: 'reclaimed',
  unrecorded: words.notRecorded,
  made: words.made,
}

export function LotRow({
  lot,
  per,
  changed,
}: {
  lot: Schemas['LarderShownLot']
  per: string
  changed: (now: Full, text: string) => Promise<void>
}) {
  const kitchen = useKitchen()
  const say = useSay()
  const [open, setOpen] = useState(false)
  const [f, setF] = useState({
    bestBefore: lot.bestBefore ?? '',
    opened: lot.opened ?? '',
    openUntil: lot.openUntil ?? '',
  })
  const [refused, setRefused] = useState<Refused>()
  const queries = useQueryClient()
  async function save() {
    try {
      setRefused(undefined)
      await changed(
        await ask(
          api.PUT('/api/v1/lots/{id}', {
            params: { path: { id: lot.id }, header: { 'If-Match': etag(lot.revision) } },
            body: f,
          }),
        ),
        words.saved,
      )
      setOpen(false)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  async function undo() {
    try {
      await ask(api.DELETE('/api/v1/lots/{id}', { params: { path: { id: lot.id } } }))
      await askAnew(queries, ['larder'])
      say.done('larder', words.purchaseDeleted)
    } catch (error) {
      say.refused(error)
    }
  }
  const until = [lot.openUntil, lot.bestBefore].filter(Boolean).sort()[0]
  return (
    <li className={lot.good ? '' : 'spoilt'}>
      <button type="button" className="lot" aria-expanded={open} onClick={() => setOpen(!open)}>
        <span>
          {origins[lot.origin]} {date(lot.bought)}
          {lot.shop && `, ${lot.shop}`}
          <small>
            {until ? `${lot.good ? words.goodUntil : words.past} ${date(until, true)}` : words.keeps}
            {lot.opened && words.openSince(date(lot.opened))}
            {kitchen.seesMoney && ` · ${kitchen.money(lot.each)} ${words.for2} ${per}`}
          </small>
        </span>
        <b>{kitchen.amount(lot.left)}</b>
      </button>
      {open && (
        <div className="lot-form">
          <label>
            {words.bestBefore}{' '}
            <Day
              label={words.bestBefore2}
              small
              empty={words.noDate}
              value={f.bestBefore}
              onChange={(bestBefore) => setF({ ...f, bestBefore })}
            />
          </label>
          <label>
            {words.opened}{' '}
            <Day
              label={words.opened2}
              small
              empty={words.noDate}
              value={f.opened}
              onChange={(opened) => setF({ ...f, opened })}
            />
          </label>
          <label>
            {words.thenGoodUntil}{' '}
            <Day
              label={words.goodUntilOpen}
              small
              empty={words.noDate}
              value={f.openUntil}
              onChange={(openUntil) => setF({ ...f, openUntil })}
            />
          </label>
          {refused && (
            <p className="fault" role="alert">
              {refused.at('openUntil') ?? refused.message}
            </p>
          )}
          {kitchen.owns && <Link to={`/larder/lots/${lot.id}`}>{words.whereItWent}</Link>}{' '}
          <Button size="small" onClick={() => void save()}>
            {words.saveTheLot}
          </Button>
          {['bought', 'shopping', 'made'].includes(lot.origin) && lot.left.amount === lot.came.amount && (
            <Button type="link" className="link quiet" onClick={() => void undo()}>
              {lot.origin === 'made' ? words.itWasNotMade : words.deleteThisPurchase}
            </Button>
          )}
        </div>
      )}
    </li>
  )
}
