import { useSyncExternalStore } from 'react'

/** Whether single letters and digits are shortcuts on this device (WCAG 2.1.4: they can be switched off). */
const stored = 'zestytin.shortcuts'
const listeners = new Set<() => void>()

export const shortcuts = () => localStorage.getItem(stored) !== 'off'

export function setShortcuts(on: boolean) {
  localStorage.setItem(stored, on ? 'on' : 'off')
  document.documentElement.classList.toggle('no-keys', !on)
  for (const l of listeners) l()
}

export const useShortcuts = () =>
  useSyncExternalStore((l) => {
    listeners.add(l)
    return () => void listeners.delete(l)
  }, shortcuts)

document.documentElement.classList.toggle('no-keys', !shortcuts())

/** Opens the list of keys, wherever one is. */
export const keysEvent = 'list-of-keys'
