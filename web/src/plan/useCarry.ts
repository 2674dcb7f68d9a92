import { useDrag } from '@use-gesture/react'
import { type KeyboardEvent, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { api, ask, type Schemas } from '../api/client'
import { useSay } from '../kit/say'
import { dayLong, useKitchen } from '../shell/kitchen'
import { type At, type Step } from './when'
import { words } from './words'

const grid = 5 // minutes that a step is put to
const toGrid = (minutes: number) => Math.round(minutes / grid) * grid

type To = Schemas['PlanningCarried']['to']
type By = { minutes: number } | { to: To }

/** Where keys carry a step: along the day, to another person, to another day. */
const carries: Record<string, (far: boolean) => By> = {
  ArrowLeft: (far) => ({ minutes: far ? -30 : -grid }),
  ArrowRight: (far) => ({ minutes: far ? 30 : grid }),
  ArrowUp: () => ({ to: 'previous-person' }),
  ArrowDown: () => ({ to: 'next-person' }),
  PageUp: () => ({ to: 'previous-day' }),
  PageDown: () => ({ to: 'next-day' }),
  '[': () => ({ to: 'previous-day' }),
  ']': () => ({ to: 'next-day' }),
}

/** The lane under the pointer is where a step would go that was gripped so many minutes from its start. */
function under([x, y]: [number, number], grip: number): At | undefined {
  const lane = document.elementsFromPoint(x, y).find((el) => el instanceof HTMLElement && el.dataset.band)
  if (!(lane instanceof HTMLElement)) return
  const box = lane.getBoundingClientRect()
  const lanes = Number(lane.dataset.lanes)
  const start = Number(lane.dataset.from) + ((x - box.left) / box.width) * Number(lane.dataset.span) - grip
  const hand = Math.min(Math.max(Math.floor((y - box.top) / (box.height / lanes)), 0), lanes - 1)
  return { day: lane.dataset.band!, start: Math.max(toGrid(start), 0), hand }
}

/** Minutes from the start of a step to where it was gripped. */
function gripOf(chip: HTMLElement, x: number) {
  const lane = chip.parentElement!
  return ((x - chip.getBoundingClientRect().left) / lane.getBoundingClientRect().width) * Number(lane.dataset.span)
}

/** A step that is picked up, by hand or by keys, and put down elsewhere; Esc leaves it where it was. */
export function useCarry(p: {
  at: (step: Step) => At // where it stands
  select: (step: Step) => void
  drop: (step: Step, at: At) => Promise<unknown>
  unpin: (step: Step) => void
}) {
  const { clock } = useKitchen()
  const say = useSay()
  const [carried, setCarried] = useState<{ step: Step; at: At }>()
  const [told, setTold] = useState('')
  const tell = (step: Step, at: At) =>
    setTold(words.movedTo(step.name, dayLong(at.day), clock(at.start)) + words.byPerson(at.hand + 1))
  const put = (step: Step, at: At) => {
    held.current = undefined
    setCarried(undefined)
    return p.drop(step, at)
  }

  // Where a step comes to stand on another day or with another person the server says; keys that are pressed meanwhile
  // wait for it.
  const carrying = useRef<Promise<void>>(Promise.resolve())
  const held = useRef<At>(undefined)
  const carry = (step: Step, by: By) =>
    (carrying.current = carrying.current.then(async () => {
      const at = held.current
      if (!at) return
      try {
        const next =
          'to' in by
            ? await ask(
                api.POST('/api/v1/calculators/slot', {
                  body: { ...at, batch: step.batch, step: step.step, to: by.to },
                }),
              )
            : { ...at, start: Math.min(Math.max(toGrid(at.start) + by.minutes, 0), 1439) }
        if (!held.current) return // put down meanwhile
        held.current = next
        setCarried({ step, at: next })
        tell(step, next)
      } catch (error) {
        say.refused(error)
      }
    }))

  // By keyboard: Enter lifts a step, arrows carry it, Enter puts it down, Esc leaves it.
  function press(step: Step, e: KeyboardEvent<HTMLButtonElement>) {
    if (e.ctrlKey || e.metaKey || e.altKey) return
    const by = carries[e.key]
    if (!carried && e.key === 'Enter' && !step.done) {
      p.select(step)
      const here = p.at(step)
      held.current = here
      setCarried({ step, at: here })
      tell(step, here)
    } else if (!carried && e.key === 'u' && step.pinned) p.unpin(step)
    else if (carried && by) void carry(step, by(e.shiftKey))
    else if (carried && e.key === 'Enter') void carrying.current.then(() => held.current && put(step, held.current))
    else if (carried && e.key === 'Escape') {
      held.current = undefined
      setCarried(undefined)
      setTold(words.moveCancelled)
    } else return
    e.preventDefault()
  }

  // By hand; a click that ends a drag is none.
  const leave = useRef<() => void>(undefined)
  const grab = useDrag<PointerEvent>(
    ({ args: [step], first, last, canceled, cancel, currentTarget, initial, xy, memo, tap }) => {
      if (tap) return // a click: told without a first or a last
      const s = step as Step
      const grip = first ? gripOf(currentTarget as HTMLElement, initial[0]) : (memo as number)
      leave.current = last ? undefined : cancel
      const at = under(xy, grip)
      if (!last && at) setCarried({ step: s, at })
      if (last) {
        setCarried(undefined)
        if (at && !canceled) void put(s, at)
      }
      return grip
    },
    { threshold: 5, filterTaps: true, pointer: { keys: false } },
  )
  useHotkeys('escape', () => leave.current?.())

  return { carried, told, press, grab: (step: Step) => (step.done ? {} : grab(step)) }
}
