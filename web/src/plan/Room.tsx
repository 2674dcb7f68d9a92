import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, InputNumber } from 'antd'
import { useEffect, useState } from 'react'
import { api, askTagged, etag, Refused, type Schemas } from '../api/client'
import { useSay } from '../kit/say'

type Room = Schemas['PlanningCapacity']

const places = [['fridge', 'the fridge holds'], ['freezer', 'the freezer'], ['counter', 'the counter']] as const

/** What there is beside hands: trays, moulds, and how long washing down takes. The plan follows. */
export function RoomForm() {
  const queries = useQueryClient()
  const say = useSay()
  const stored = useQuery({ queryKey: ['room'], queryFn: () => askTagged(api.GET('/api/v1/room', {})) })
  const [room, setRoom] = useState<Room>()
  const [refused, setRefused] = useState<Refused>()
  useEffect(() => setRoom(stored.data?.data), [stored.data])
  if (!room) return null
  const changed = JSON.stringify(room) !== JSON.stringify(stored.data?.data)
  async function save(next: Room, undo?: Room, revision = stored.data?.revision) {
    if (revision === undefined) return
    try {
      setRefused(undefined)
      const saved = await askTagged(api.PUT('/api/v1/room', { body: next, params: { header: { 'If-Match': etag(revision) } } }))
      queries.setQueryData(['room'], saved)
      await queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'room' })
      say.done('room', 'The room is saved, and the plan follows.', undo && (() => void save(undo, undefined, saved.revision)))
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
      if (error.status === 412) await stored.refetch()
    }
  }
  const mould = (i: number, count: number) => setRoom({ ...room, moulds: room.moulds.map((m, j) => (j === i ? { ...m, count } : m)) })
  return (
    <section className="room" aria-label="Room">
      <h2>Room</h2>
      <p className="soft">Things set and chill without hands, but not without room: trays in each place, and moulds.</p>
      <div className="room-fields">
        {places.map(([key, word]) => (
          <label key={key}>
            {word} <InputNumber size="small" aria-label={`Trays of the ${key}`} min={0} max={500} value={room[key]} style={{ width: 64 }} onChange={(n) => n !== null && setRoom({ ...room, [key]: n })} /> trays
            {refused?.at(key) && <span className="fault" role="alert">{refused.at(key)}</span>}
          </label>
        ))}
        <label>
          washing down takes <InputNumber size="small" aria-label="Minutes of washing down" min={0} max={240} value={room.washdown} style={{ width: 64 }} onChange={(n) => n !== null && setRoom({ ...room, washdown: n })} /> min
        </label>
      </div>
      <div className="room-fields">
        {room.moulds.map((m, i) => (
          <label key={m.tool}>
            moulds of {m.for?.join(', ')} <InputNumber size="small" aria-label={`Moulds of ${m.for?.join(', ')}`} min={1} max={200} value={m.count} style={{ width: 58 }} onChange={(n) => n !== null && mould(i, n)} /> <span className="soft">{m.text}</span>
            {refused?.at(`moulds[${i}].count`) && <span className="fault" role="alert">{refused.at(`moulds[${i}].count`)}</span>}
          </label>
        ))}
      </div>
      <p>
        <Button disabled={!changed} onClick={() => void save(room, stored.data?.data)}>Save the room</Button>
        {refused && !refused.problem.errors?.length && <span className="fault" role="alert">{refused.status === 412 ? 'Someone changed the room meanwhile: these are their numbers.' : refused.message}</span>}
      </p>
    </section>
  )
}
