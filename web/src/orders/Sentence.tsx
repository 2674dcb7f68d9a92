import { Select } from 'antd'
import { Blank } from '../kit/Blank'
import { clockOf, Day, minuteOf, Time } from '../kit/Day'
import { dayLong, useKitchen } from '../shell/kitchen'
import { Customer } from './Customer'
import type { Draft } from './draft'
import { words } from './words'

export interface Writing {
  draft: Draft
  set: (change: Partial<Draft>) => void
  fault: (path: string) => string | undefined // of a field of the draft
}

/** The window of the handover in the kitchen's own clock, and a way to set it. */
export function useWindow(draft: Draft, set: Writing['set']) {
  const kitchen = useKitchen()
  const from = kitchen.local(draft.from)
  const to = kitchen.local(draft.to)
  const window = (on: string, begin: string, end: string) => {
    if (on && begin && end) set({ from: kitchen.instant(on, begin), to: kitchen.instant(on, end) })
  }
  return { day: from.format('YYYY-MM-DD'), from, to, window }
}

/** Whom an order is for, and when and how it is handed over. */
export function Sentence({ draft, set, fault, home, fresh }: Writing & { home: string; fresh: boolean }) {
  const kitchen = useKitchen()
  const { day, from, to, window } = useWindow(draft, set)
  return (
    <div className="sentence">
      <p>
        {words.for2}{' '}
        <Customer
          value={draft.customer}
          fault={fault('customer')}
          autoFocus={fresh}
          onChange={(customer) => set({ customer })}
          onKnown={(c) =>
            set({
              customer: c.name,
              phone: draft.phone || c.phone,
              mail: draft.mail || c.mail,
              ...(draft.way === 'delivery' && !draft.place && { place: c.place }),
            })
          }
        />
        ,{' '}
        <Blank
          label={words.phone}
          value={draft.phone ?? ''}
          onChange={(e) => set({ phone: e.target.value })}
          placeholder={words.phone2}
          fault={fault('phone')}
        />{' '}
        <Blank
          label={words.mail}
          value={draft.mail ?? ''}
          onChange={(e) => set({ mail: e.target.value })}
          placeholder={words.mail2}
          fault={fault('mail')}
          wide={9}
        />
        {words.occasion}{' '}
        <Blank
          label={words.occasion2}
          value={draft.occasion ?? ''}
          onChange={(e) => set({ occasion: e.target.value })}
          placeholder={words.aGift}
          fault={fault('occasion')}
          wide={9}
        />
        .
      </p>
      <p>
        <Select
          variant="borderless"
          className="way-input"
          aria-label={words.pickupOrDelivery}
          value={draft.way}
          popupMatchSelectWidth={false}
          options={[
            { value: 'pickup', label: words.pickedUp },
            { value: 'delivery', label: words.delivered },
          ]}
          onChange={(way) => set({ way, place: way === 'pickup' ? home : '' })}
        />{' '}
        <Blank
          label={words.place}
          value={draft.place ?? ''}
          onChange={(e) => set({ place: e.target.value })}
          placeholder={draft.way === 'delivery' ? words.deliveryAddress : words.where}
          fault={fault('place')}
          wide={9}
        />{' '}
        {words.on}{' '}
        <Day
          label={words.day(dayLong(day))}
          value={day}
          min={kitchen.today()}
          onChange={(chosen) => window(chosen, from.format('HH:mm'), to.format('HH:mm'))}
        />{' '}
        {words.between}{' '}
        <Time
          label={words.from}
          value={from.format('HH:mm')}
          fault={fault('from') && 'order-from'}
          onChange={(time) => {
            // The end comes along: the window stays as long as it was.
            const long = Math.max(to.diff(from, 'minute'), 15)
            window(day, time, clockOf(Math.min(minuteOf(time) + long, 24 * 60 - 1)))
          }}
        />{' '}
        {words.and}{' '}
        <Time
          label={words.to}
          value={to.format('HH:mm')}
          fault={fault('to') && 'order-to'}
          onChange={(time) => window(day, from.format('HH:mm'), time)}
        />
        .
      </p>
      {(['from', 'to'] as const).map(
        (f) =>
          fault(f) && (
            <p key={f} id={`order-${f}`} className="fault" role="alert">
              {fault(f)}
            </p>
          ),
      )}
    </div>
  )
}
