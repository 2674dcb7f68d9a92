import { expect, test } from '@playwright/test'
import { respell, say, spellAs } from '../web/src/kit/tongue'
import { askAnew, type Topic } from '../web/src/api/topics'
import { Refused } from '../web/src/api/refused'
import { BothChanged, saveOver } from '../web/src/device/saveOver'
import { Kitchen, type Session } from '../web/src/shell/kitchen'
import { merge, onTop, same } from '../web/src/device/merge'
import { daysOf } from '../web/src/orders/spans'

// What needs no page: plain functions of the front end.

const base = { customer: 'Ada', notes: '', lines: [{ treat: 'a', count: 12 }], freeFrom: [] as string[] }

test('fields that do not touch are merged', () => {
  const mine = { ...base, notes: 'ribbon' }
  const theirs = { ...base, lines: [{ treat: 'a', count: 24 }] }
  expect(merge(base, mine, theirs)).toEqual({
    merged: { ...base, notes: 'ribbon', lines: [{ treat: 'a', count: 24 }] },
    both: [],
  })
})

test('what both changed is asked for, and nothing is lost', () => {
  const mine = { ...base, notes: 'ribbon', customer: 'Ada Q' }
  const theirs = { ...base, notes: 'no ribbon', freeFrom: ['milk'] }
  const { merged, both } = merge(base, mine, theirs)
  expect(both).toEqual(['notes'])
  expect(merged).toEqual({ ...base, customer: 'Ada Q', notes: 'no ribbon', freeFrom: ['milk'] })
})

test('the same change by both is none to ask about', () => {
  const mine = { ...base, lines: [{ treat: 'a', count: 6 }] }
  expect(merge(base, mine, structuredClone(mine))).toEqual({ merged: mine, both: [] })
})

test('a field that one takes away', () => {
  const with_ = { customer: 'Ada', phone: '555' as string | undefined }
  const mine = { customer: 'Ada', phone: undefined }
  expect(merge(with_, mine, { ...with_, customer: 'Bo' }).merged).toEqual({ customer: 'Bo', phone: undefined })
})

test('sameness is by what is in it', () => {
  expect(same([1, { a: null }], [1, { a: undefined }])).toBe(true)
  expect(same([], {})).toBe(false)
  expect(same([1, 2], [1])).toBe(false)
  expect(same('', 0)).toBe(false)
})

test('weeks begin on Monday, months have their own last day', () => {
  const thursday = '2026-09-03'
  expect(daysOf('week', thursday)).toEqual({ from: '2026-08-31', to: '2026-09-06' })
  expect(daysOf('week', '2026-09-06')).toEqual({ from: '2026-08-31', to: '2026-09-06' }) // a Sunday
  expect(daysOf('week', '2026-08-31')).toEqual({ from: '2026-08-31', to: '2026-09-06' }) // a Monday
  expect(daysOf('nextWeek', thursday)).toEqual({ from: '2026-09-07', to: '2026-09-13' })
  expect(daysOf('lastWeek', '2027-01-01')).toEqual({ from: '2026-12-21', to: '2026-12-27' })
  expect(daysOf('month', '2028-02-29')).toEqual({ from: '2028-02-01', to: '2028-02-29' })
  expect(daysOf('lastMonth', '2027-01-31')).toEqual({ from: '2026-12-01', to: '2026-12-31' })
  expect(daysOf('nextMonth', '2026-12-31')).toEqual({ from: '2027-01-01', to: '2027-01-31' })
  expect(daysOf(undefined, thursday)).toEqual({})
})

test('a form is saved over somebody else’s field by field, and asks where both changed the same', async () => {
  const refusal = () => new Refused({ status: 412, type: 'about:blank' })
  // What is stored, as somebody else made it while the form was open at revision 3.
  let stored = { data: { name: 'Oven', trays: 2, place: 'back' }, revision: 4 }
  const put = async (value: typeof stored.data, revision: number) => {
    if (revision !== stored.revision) throw refusal()
    stored = { data: value, revision: revision + 1 }
    return value
  }
  const begun = { data: { name: 'Oven', trays: 1, place: 'back' }, revision: 3 }
  const heard: unknown[] = []
  const moved = (value: object) => heard.push(value)
  const done = await saveOver(begun, { ...begun.data, place: 'porch' }, put, () => stored, moved)
  expect(done.answer).toEqual({ name: 'Oven', trays: 2, place: 'porch' })
  expect(done.before.data).toEqual({ name: 'Oven', trays: 2, place: 'back' }) // what an undo puts back
  expect(heard).toEqual([{ name: 'Oven', trays: 2, place: 'porch' }])

  // Both changed the trays: mine is not saved, and not lost.
  const late = saveOver(begun, { ...begun.data, trays: 9, name: 'Stove' }, put, () => stored, moved)
  await expect(late).rejects.toBeInstanceOf(BothChanged)
  expect(heard.at(-1)).toEqual({ name: 'Stove', trays: 9, place: 'porch' })
  expect(stored.data).toEqual({ name: 'Oven', trays: 2, place: 'porch' })

  // Whoever never comes to an end gives up; another refusal is passed on.
  await expect(
    saveOver(
      begun,
      begun.data,
      () => Promise.reject(refusal()),
      () => ({ ...stored, data: begun.data }),
      moved,
    ),
  ).rejects.toThrow(Refused)
  const broken = new Refused({ status: 422, type: 'about:blank' })
  await expect(
    saveOver(
      begun,
      begun.data,
      () => Promise.reject(broken),
      () => stored,
      moved,
    ),
  ).rejects.toBe(broken)
})

test('the kitchen’s clock goes on while nothing is answered, from the last answer', () => {
  const session = { signedIn: true, now: '2026-09-03T23:50:00Z', timeZone: 'UTC', clock: 24 } as Session
  const at = (ago: number) => new Kitchen(session, Date.now() - ago)
  expect(at(0).today()).toBe('2026-09-03')
  expect(at(11 * 60_000).today()).toBe('2026-09-04') // eleven minutes without a connection
  expect(
    at(11 * 60_000).time(
      at(11 * 60_000)
        .now()
        .toISOString(),
    ),
  ).toBe('00:01')
  expect(at(-5 * 60_000).today()).toBe('2026-09-03') // a device's clock that was put back
})

test('a kitchen in the United States reads its own spelling, and names as they were typed', () => {
  expect(respell('Moulds by colour, flavoured in the centre: 5 millilitres; cancelled')).toBe(
    'Molds by color, flavored in the center: 5 milliliters; canceled',
  )
  const words = say({
    mould: 'Mould',
    in: (name: string, n: number) => `${n} ${n === 1 ? 'mould' : 'moulds'} of “${name}”`,
    places: { grey: ['the grey bowl', 'none'] },
    count: 3,
  })
  spellAs(true)
  expect(words.mould).toBe('Mold')
  expect(words.in('Colour of moulds', 1)).toBe('1 mold of “Colour of moulds”')
  expect(words.in('', 2)).toBe('2 molds of “”')
  expect(words.places.grey).toEqual(['the gray bowl', 'none'])
  expect(words.count).toBe(3)
  expect(say({ late: 'a centre' }).late).toBe('a center') // of a place that is loaded later
  spellAs(false) // it has moved
  expect(words.mould).toBe('Mould')
  expect(words.in('x', 2)).toBe('2 moulds of “x”')
  expect(words.places.grey[0]).toBe('the grey bowl')
})

test('what was changed is asked for anew with what rests on it, and nothing else', async () => {
  type Filter = { predicate?: (q: { queryKey: string[] }) => boolean } | undefined
  const asked = (topics: Topic[], withFigures?: boolean) => {
    let filter: Filter
    const queries = { invalidateQueries: (f: Filter) => (filter = f) }
    void askAnew(queries as never, topics, withFigures)
    return (key: string) => filter?.predicate?.({ queryKey: [key, 'more'] }) ?? true
  }
  const own = asked(['orders'])
  for (const key of ['orders', 'order', 'shelf', 'till', 'payments', 'estimate', 'stock', 'shopping']) {
    expect(own(key), key).toBe(true)
  }
  for (const key of ['session', 'allergens', 'families', 'customers', 'starting']) expect(own(key), key).toBe(false)
  // Somebody else changed an order: what is being typed here is not reckoned again for it.
  const theirs = asked(['orders'], false)
  expect([theirs('orders'), theirs('plan'), theirs('estimate'), theirs('what-if')]).toEqual([true, true, false, false])
  // Two topics at once; and the numbers of the kitchen, on which everything rests.
  const both = asked(['customers', 'larder'], false)
  expect([both('customers'), both('stock'), both('till')]).toEqual([true, true, false])
  expect(asked(['customers', 'kitchen'])('session')).toBe(true)
  expect(asked(['everything' as Topic])('till')).toBe(true) // a topic of a server that is newer than the page
})

test('what was typed while it was saved stays on top of the answer', () => {
  const sent = { name: 'Fudge', loss: 3, keeps: 10 }
  const came = { name: 'Fudge', loss: 3, keeps: 12 } // somebody else's, taken over
  expect(onTop(sent, sent, came)).toEqual(came)
  expect(onTop(sent, { ...sent, loss: 4 }, came)).toEqual({ name: 'Fudge', loss: 4, keeps: 12 })
  expect(onTop(sent, { ...sent, keeps: 9 }, came)).toEqual({ name: 'Fudge', loss: 3, keeps: 9 }) // the last key
})
