import { Select } from 'antd'
import { Blank } from '../kit/Blank'
import { clockOf, Day, minuteOf, Time } from '../kit/Day'
import { Told } from '../kit/Told'
import { dayLong, useKitchen } from '../shell/kitchen'
import { Customer } from './Customer'
import type { Draft } from './draft'
import { withWishes } from './again'
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
  const blank = (field: 'phone' | 'mail' | 'occasion' | 'place', label: string, placeholder: string) => (
    <Blank
      label={label}
      value={draft[field] ?? ''}
      onChange={(e) => set({ [field]: e.target.value })}
      placeholder={placeholder}
      fault={fault(field)}
      wide={field === 'phone' ? 6 : 9}
    />
  )
  return (
    <div className="sentence">
      <p>
        <Told
          text={words.forWhom}
          parts={{
            customer: (
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
                    ...withWishes(draft, c),
                    ...(draft.way === 'delivery' && !draft.place && { place: c.place }),
                  })
                }
              />
            ),
            phone: blank('phone', words.phone, words.phone2),
            mail: blank('mail', words.mail, words.mail2),
            occasion: blank('occasion', words.occasion2, words.aGift),
          }}
        />
      </p>
      <p>
        <Told
          text={words.handedOver}
          parts={{
            way: (
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
              />
            ),
            place: blank('place', words.place, draft.way === 'delivery' ? words.deliveryAddress : words.where),
            day: (
              <Day
                label={words.day(dayLong(day))}
                value={day}
                min={kitchen.today()}
                onChange={(chosen) => window(chosen, from.format('HH:mm'), to.format('HH:mm'))}
              />
            ),
            from: (
              <Time
                label={words.from}
                value={from.format('HH:mm')}
                fault={fault('from') && 'order-from'}
                onChange={(time) => {
                  // The end comes along: the window stays as long as it was.
                  const long = Math.max(to.diff(from, 'minute'), 15)
                  window(day, time, clockOf(Math.min(minuteOf(time) + long, 24 * 60 - 1)))
                }}
              />
            ),
            to: (
              <Time
                label={words.to}
                value={to.format('HH:mm')}
                fault={fault('to') && 'order-to'}
                onChange={(time) => window(day, from.format('HH:mm'), time)}
              />
            ),
          }}
        />
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
