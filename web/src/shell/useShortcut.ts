import { useHotkeys } from 'react-hotkeys-hook'
import { shortcuts } from './shortcuts'

/** Whether one types, or chooses, where a key was pressed. */
export const typing = (e: KeyboardEvent) => {
  const at = e.target as HTMLElement
  return (
    at.isContentEditable ||
    ['INPUT', 'TEXTAREA', 'SELECT'].includes(at.tagName) ||
    at.closest('.ant-select, dialog') !== null
  )
}

/** What somebody else has taken, and what is meant for the browser. */
export const taken = (e: KeyboardEvent) => e.defaultPrevented || e.ctrlKey || e.metaKey || e.altKey

/**
 * Keys as they are printed, wherever they lie on the keyboard: "/" is a key of its own on one and a shifted 7 on
 * another. They do nothing while one types, and once they are switched off.
 */
export function useShortcut(keys: string[], run: (key: string) => void) {
  useHotkeys(keys, (e) => run(e.key), {
    useKey: true,
    ignoreModifiers: true,
    enabled: () => shortcuts(),
    ignoreEventWhen: (e) => taken(e) || typing(e),
    preventDefault: true,
  })
}
