import { newKey } from '../device/register'

const stored = 'zestytin.device'

/** What this browser is called, so that a timer rings where it was set. It says nothing of whose it is. */
export function deviceName(): string {
  let name = localStorage.getItem(stored)
  if (!name) localStorage.setItem(stored, (name = newKey()))
  return name
}

/** A choice of this device that is remembered. */
export const remembered = {
  get: (what: 'aloud' | 'everywhere') => localStorage.getItem(`zestytin.bench.${what}`) === 'on',
  set: (what: 'aloud' | 'everywhere', on: boolean) => localStorage.setItem(`zestytin.bench.${what}`, on ? 'on' : 'off'),
}
