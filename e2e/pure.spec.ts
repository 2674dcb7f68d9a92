import { expect, test } from '@playwright/test'
import { merge, same } from '../web/src/device/merge'
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
