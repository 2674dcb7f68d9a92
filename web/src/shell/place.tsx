import { Button } from 'antd'
import { type ComponentType, useEffect, useState } from 'react'
import { ErrorBoundary } from 'react-error-boundary'
import '../kit/face.css'
import { words } from './words'

type Load = () => Promise<{ default: ComponentType }>

/** Where a place could not be loaded, or broke. */
function Failed({ away, again }: { away: boolean; again: () => void }) {
  return (
    <section className="wide face">
      <div className="face-card" role="alert">
        <div>
          <h1>{words.place.failed}</h1>
          <p>{away ? words.place.away : words.place.broken}</p>
          <Button onClick={again}>{words.place.again}</Button>
        </div>
      </div>
    </section>
  )
}

/**
 * A place that is loaded when it is first gone to, or by load before. Where that fails, or the place breaks, it says so
 * and can be tried again; the rest of the application stays. React's own lazy would hold back what is there already:
 * whatever was suspended appears 300 ms after it was, at the earliest.
 */
export function place(fetch: Load): ComponentType & { load: () => Promise<unknown> } {
  let Loaded: ComponentType | undefined
  const load = () =>
    fetch().then((module) => {
      Loaded = module.default
    })
  function Place() {
    const [, setLoaded] = useState(Loaded !== undefined)
    const [failed, setFailed] = useState(false)
    const [tries, setTries] = useState(0)
    useEffect(() => {
      if (Loaded) return
      let left = false
      load().then(
        () => !left && setLoaded(true),
        () => !left && setFailed(true),
      )
      return () => {
        left = true
      }
    }, [tries])
    if (failed && !Loaded) {
      return (
        <Failed
          away
          again={() => {
            setFailed(false)
            setTries(tries + 1)
          }}
        />
      )
    }
    if (!Loaded) {
      return (
        <p className="loading" role="status">
          {words.place.loading}
        </p>
      )
    }
    return (
      <ErrorBoundary fallbackRender={({ resetErrorBoundary }) => <Failed away={false} again={resetErrorBoundary} />}>
        <Loaded />
      </ErrorBoundary>
    )
  }
  return Object.assign(Place, { load })
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
