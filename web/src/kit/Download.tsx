import type { MouseEvent, ReactNode } from 'react'
import { sayAgain } from '../api/again'
import { api, ask } from '../api/client'

/** A file that gives much away: before it is fetched one says who one is, unless one has done so lately. */
export function Download(p: { href: string; download: string; className?: string; children: ReactNode }) {
  async function fetchIt(e: MouseEvent) {
    e.preventDefault()
    const session = await ask(api.GET('/api/v1/session', {}))
    if (!session.sure && !(await sayAgain())) return
    const a = document.createElement('a')
    a.href = p.href
    a.download = p.download
    a.click()
  }
  return (
    <a href={p.href} download={p.download} className={p.className} onClick={(e) => void fetchIt(e)}>
      {p.children}
    </a>
  )
}
