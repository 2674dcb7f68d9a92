import { Link } from 'react-router'
import { useKitchen } from '../shell/kitchen'
import './face.css'
import { words } from './words'

/** Where somebody else reaches a page of the kitchen. */
export function useAddress(path: string) {
  const base = useKitchen().session.public || location.origin
  const host = new URL(base).hostname
  return { href: base + path, here: host === 'localhost' || host === '[::1]' || /^127\./.test(host) }
}

/** That a link leads nowhere for others. */
export function OnlyHere({ here }: { here: boolean }) {
  if (!here) return null
  return (
    <small className="caution only-here">
      {words.address.here} <Link to="/kitchen">{words.address.set}</Link>
    </small>
  )
}

/** Copies a text; also where the browser gives a page no clipboard, as on plain http. */
export async function copy(text: string): Promise<boolean> {
  try {
    await navigator.clipboard.writeText(text)
    return true
  } catch {
    return false
  }
}
