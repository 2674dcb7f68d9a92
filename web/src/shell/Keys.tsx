import { lazy, Suspense, useEffect, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useLocation, useNavigate } from 'react-router'
import { Sheet } from '../kit/Sheet'
import { padEvent, useKitchen } from './kitchen'
import { usePlaces } from './Lid'
import { keysEvent } from './shortcuts'
import { taken, typing, useShortcut } from './useShortcut'
import { words } from './words'
import './shell.css'

const list = [
  ['1 to 7', words.thePlacesFromOrdersTo],
  ['n', words.aNewOrder],
  ['a', words.inAnOrderAddA],
  ['.', words.todayOnTheBench],
  ['[ and ]', words.onTheBenchTheDay],
  ['d k j t r', words.onTheBenchAStep],
  ['Enter', words.inThePlanEnterPicks],
  ['/', words.findAnything2],
  ['=', words.theScratchPadConvertRecipe],
  ['?', words.thisList],
  ['Esc', 'back'],
] as const

const ScratchPad = lazy(() => import('../scratch/ScratchPad'))

/** The keys that work everywhere, and their list. */
export function Keys() {
  const [shown, setShown] = useState(false)
  const [pad, setPad] = useState(false)
  const navigate = useNavigate()
  const { pathname } = useLocation()
  const kitchen = useKitchen()
  const places = usePlaces()
  useShortcut(
    places.map((_, i) => `${i + 1}`),
    (key) => void navigate(places[Number(key) - 1]![1]),
  )
  useShortcut(['n'], () => kitchen.owns && void navigate('/orders/new'))
  useShortcut(['.'], () => kitchen.mayGo('/bench') && void navigate(`/bench/${kitchen.today()}`))
  useShortcut(['/'], () => document.getElementById('find')?.focus())
  useShortcut(['?'], () => setShown(true))
  useShortcut(['='], () => kitchen.role !== 'bookkeeper' && setPad((open) => !open))
  // Esc leaves a field, then a page for the one above it; it cannot be switched off.
  useHotkeys(
    'escape',
    (e) => {
      const up = pathname.split('/').slice(0, -1).join('/')
      if (typing(e)) (e.target as HTMLElement).blur()
      else if (up) void navigate(up)
    },
    { enableOnFormTags: true, ignoreEventWhen: taken },
  )
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
