import { useMutation } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { newKey } from '../device/register'
import { Fault } from '../kit/Field'
import type { Work } from './Steps'
import { words } from './words'

type Read = Schemas['ScratchMethodStep']

/** The hands of a step that waits, or that does not say how long it takes. */
const someMinutes = 5

/** A step as a line of a method says it: its minutes are hands or waiting, where the kitchen has the place. */
const stepOf = (s: Read, places: string[]): Work => ({
  id: `own-${newKey().slice(0, 8)}`,
  name: s.text.slice(0, 200),
  perBatch: s.waits ? someMinutes : (s.minutes ?? someMinutes),
  perRound: 0,
  perPiece: 0,
  wait: s.waits ? (s.minutes ?? 0) : 0,
  place: s.waits && s.place && places.includes(s.place) ? s.place : undefined,
})

/** The lines of a recipe's method become steps, with the minutes and places that they name. */
export function StepsFromRecipe({ places, add }: { places: string[]; add: (steps: Work[]) => void }) {
  const [open, setOpen] = useState(false)
  const [text, setText] = useState('')
  const read = useMutation({
    mutationFn: () => ask(api.POST('/api/v1/calculators/recipe', { body: { text, method: true } })),
    onSuccess: ({ recipes }) => {
      add((recipes[0]?.steps ?? []).map((s) => stepOf(s, places)))
      setText('')
      setOpen(false)
    },
  })
  const refused = read.error instanceof Refused ? read.error : undefined
  if (!open)
    return (
      <Button type="link" className="link" onClick={() => setOpen(true)}>
        {words.stepsFromARecipe}
      </Button>
    )
  return (
    <form
      className="steps-from-recipe"
      onSubmit={(e) => {
        e.preventDefault()
        read.mutate()
      }}
    >
      <Input.TextArea
        autoFocus
        rows={5}
        aria-label={words.methodOfTheRecipe}
        placeholder={words.methodExample}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <Button htmlType="submit" size="small" disabled={text.trim() === ''} loading={read.isPending}>
        {words.makeStepsOfIt}
      </Button>{' '}
      <Button type="link" className="link quiet" onClick={() => setOpen(false)}>
        {words.notNow}
      </Button>
      <Fault>{refused && (refused.problem.errors?.[0]?.message ?? refused.message)}</Fault>
    </form>
  )
}
