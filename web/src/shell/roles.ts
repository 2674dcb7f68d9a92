import type { Schemas } from '../api/client'
import { words } from './words'

export type Role = NonNullable<Schemas['AccountSession']['role']>

/** A place, with where it is. */
export type Place = readonly [name: string, path: string]

const own: Place[] = [
  [words.orders, '/orders'],
  [words.treats, '/treats'],
  [words.plan, '/plan'],
  [words.bench, '/bench'],
  [words.larder, '/larder'],
  [words.handover, '/handover'],
  [words.till, '/till'],
]

/** The places of each role, the one first where one begins. What a role may do there, the kitchen's server decides. */
export const placesOf: Record<Role, (today: string) => Place[]> = {
  owner: () => own,
  maker: (today) => [
    [words.bench, '/bench'],
    [words.plan, '/plan'],
    [words.larder, '/larder'],
    [words.packing, `/handover/packing/${today}`],
    [words.drive, `/handover/drive/${today}`],
  ],
  bookkeeper: () => [[words.till, '/till']],
}

const within: Record<Role, RegExp> = {
  owner: /^/,
  maker:
    /^\/(bench(\/(?!instruments)|$|\?)|plan|larder(\/shopping|$|\?)|handover\/(packing|drive)\/|kitchen\/you)|^\/$/,
  bookkeeper: /^\/(till|kitchen\/you)|^\/$/,
}

/** Whether a role goes to a place. */
export const mayGo = (role: Role, path: string) => within[role].test(path)
