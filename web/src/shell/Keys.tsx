import { lazy, Suspense, useEffect, useState } from 'react'
import { useLocation, useNavigate } from 'react-router'
import { Sheet } from '../kit/Sheet'
import { padEvent, useKitchen } from './kitchen'
import { places } from './Lid'
import { keysEvent, shortcuts } from './shortcuts'
import { words } from './words'
import './shell.css'

const list = [
  ['1 to 7', words.thePlacesFromOrdersTo],
  ['n', words.aNewOrder],
  ['a', words.inAnOrderAddA],
  ['.', words.todayOnTheBench],
  ['[ and ]', words.onTheBenchTheDay],
  ['Enter', words.inThePlanEnterPicks],
  ['/', words.findAnything2],
  ['=', words.theScratchPadConvertRecipe],
  ['?', words.thisList],
  ['Esc', 'back'],
] as const

const ScratchPad = lazy(() => import('../scratch/ScratchPad'))

const typing = (e: KeyboardEvent) => {
  const at = e.target as HTMLElement
  return (
    at.isContentEditable ||
    ['INPUT', 'TEXTAREA', 'SELECT'].includes(at.tagName) ||
    at.closest('.ant-select, dialog') !== null
  )
}

/** The keys that work everywhere, and their list. */
export function Keys() {
  const [shown, setShown] = useState(false)
  const [pad, setPad] = useState(false)
  const navigate = useNavigate()
  const { pathname } = useLocation()
  const kitchen = useKitchen()
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey || e.defaultPrevented) return
      if (e.key === 'Escape' && !typing(e)) {
        const up = pathname.split('/').slice(0, -1).join('/')
        if (up) void navigate(up)
        return
      }
      if (typing(e)) {
        if (e.key === 'Escape') (e.target as HTMLElement).blur()
        return
      }
      if (!shortcuts()) return
      const place = places[Number(e.key) - 1]
      if (place) void navigate(place[1])
      else if (e.key === 'n') void navigate('/orders/new')
      else if (e.key === '.') void navigate(`/bench/${kitchen.today()}`)
      else if (e.key === '/') document.getElementById('find')?.focus()
      else if (e.key === '?') setShown(true)
      else if (e.key === '=') setPad((open) => !open)
      else return
      e.preventDefault()
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [navigate, pathname, kitchen])
  useEffect(() => {
    const list = () => setShown(true)
    window.addEventListener(keysEvent, list)
    return () => window.removeEventListener(keysEvent, list)
  }, [])
  useEffect(() => {
    const toggle = () => setPad((open) => !open)
    window.addEventListener(padEvent, toggle)
    return () => window.removeEventListener(padEvent, toggle)
  }, [])
  return (
    <>
      {pad && (
        <Suspense fallback={null}>
          <ScratchPad close={() => setPad(false)} />
        </Suspense>
      )}
      {shown && <KeyList close={() => setShown(false)} />}
    </>
  )
}

function KeyList({ close }: { close: () => void }) {
  return (
    <Sheet title={words.keys} close={close}>
      <dl className="keys">
        {list.map(([key, what]) => (
          <div key={key}>
            <dt>
              <kbd>{key}</kbd>
            </dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </Sheet>
  )
}
