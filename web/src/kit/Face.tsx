import { Button } from 'antd'
import { Refused } from '../api/client'
import { useReached } from '../api/reach'
import './kit.css'
import './face.css'
import { words } from './words'

/** As much of a query as its face needs. */
interface Asked {
  data: unknown
  error: Error | null
  refetch: () => unknown
}

/**
 * What a view shows before it has its data: that it is being fetched (and how far that is), that it failed, or that
 * there is no network.
 */
export function Face({ title, of, loading }: { title?: string; of: Asked[]; loading?: string }) {
  const reached = useReached() // known at once, while a query still tries again
  const wrong = of.find((q) => (q.error || !reached) && q.data === undefined)
  if (!wrong) {
    return (
      <section className="wide face" aria-busy="true">
        {title && <h1>{title}</h1>}
        <p className="loading" role="status">
          {loading ?? words.face.loading}
        </p>
      </section>
    )
  }
  const away = !wrong.error || (wrong.error instanceof Refused && wrong.error.status === 0)
  return (
    <section className="wide face">
      {title && <h1>{title}</h1>}
      <div className="face-card" role="alert">
        <svg viewBox="0 0 80 58" width="80" aria-hidden="true">
          <rect x="1.5" y="1.5" width="77" height="55" rx="9" className="tin-lid" />
          <rect x="6" y="6" width="68" height="46" rx="6" className="tin-lid-groove" />
          {away ? (
            <path
              d="M28 24a17 17 0 0 1 24 0M33 30a10 10 0 0 1 14 0M40 37h.01M26 42 54 16"
              className="tin-knob"
              fill="none"
            />
          ) : (
            <path d="M40 17v14M40 39h.01" className="tin-knob" />
          )}
        </svg>
        <div>
          <h2>{away ? words.face.away : words.face.failed}</h2>
          <p>{away ? words.face.awayWhat : wrong.error!.message}</p>
          <Button onClick={() => of.forEach((q) => void q.refetch())}>{words.face.again}</Button>
        </div>
      </div>
    </section>
  )
}
