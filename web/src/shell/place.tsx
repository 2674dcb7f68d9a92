import { Button } from 'antd'
import { type ComponentType, lazy, Suspense, useState } from 'react'
import { ErrorBoundary } from 'react-error-boundary'
import '../kit/face.css'

const words = {
  loading: 'Loading…',
  failed: 'This page didn’t open',
  away: 'It could not be fetched. Check your connection, then try again.',
  broken: 'Something in it broke. What you saved is safe.',
  again: 'Try again',
}

/**
 * A place that is loaded when it is first gone to. Where that fails, or the place breaks, it says so and can be tried
 * again; the rest of the application stays.
 */
export function place(load: () => Promise<{ default: ComponentType }>): ComponentType {
  let Loaded = lazy(load)
  return function Place() {
    const [, setTry] = useState(0)
    return (
      <ErrorBoundary
        onReset={() => {
          Loaded = lazy(load) // what failed once is kept by lazy: it is asked for anew
          setTry((n) => n + 1)
        }}
        fallbackRender={({ error, resetErrorBoundary }) => (
          <section className="wide face">
            <div className="face-card" role="alert">
              <div>
                <h1>{words.failed}</h1>
                <p>{/import|fetch|load/i.test(String((error as Error)?.message)) ? words.away : words.broken}</p>
                <Button onClick={resetErrorBoundary}>{words.again}</Button>
              </div>
            </div>
          </section>
        )}
      >
        <Suspense
          fallback={
            <p className="loading" role="status">
              {words.loading}
            </p>
          }
        >
          <Loaded />
        </Suspense>
      </ErrorBoundary>
    )
  }
}

/**
 * Loads all places when there is nothing else to do, once while the browser is open: its cache has them from then on,
 * and they open without the network.
 */
export function preload(loads: (() => Promise<unknown>)[]) {
  if (sessionStorage.getItem('zestytin.loaded')) return
  const rest = [...loads]
  const idle = (next: () => void) =>
    'requestIdleCallback' in window ? window.requestIdleCallback(next) : setTimeout(next, 300)
  const one = () => {
    const load = rest.shift()
    if (!load) return sessionStorage.setItem('zestytin.loaded', 'yes')
    void load()
      .catch(() => {})
      .then(() => idle(one))
  }
  setTimeout(() => idle(one), 5000)
}
