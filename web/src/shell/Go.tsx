import { Link as To, type LinkProps } from 'react-router'
import { useKitchen } from './kitchen'

/** A link to a place of whoever reads it; to others, its text. */
export function Link({ children, ...to }: LinkProps) {
  const kitchen = useKitchen()
  const path = typeof to.to === 'string' ? to.to : (to.to.pathname ?? '/')
  if (kitchen.mayGo(path)) return <To {...to}>{children}</To>
  return to.className?.includes('button-link') ? null : <span className={to.className}>{children}</span>
}
