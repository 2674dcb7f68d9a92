import { expect, test } from '@playwright/test'
import { merge, same } from '../web/src/orders/merge'

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
