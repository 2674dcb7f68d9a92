import { useQuery } from '@tanstack/react-query'
import { Button, Input, InputNumber } from 'antd'
import { api, askTagged, etag, type Schemas } from '../api/client'
import { Degrees } from '../kit/Degrees'
import { usePlanDocument } from './usePlanDocument'
import { words } from './words'

type Capacity = Schemas['PlanningCapacity']

/** Every kitchen has these; what a seller adds can be taken away again. */
const always = ['fridge', 'freezer', 'counter']

/** The spots of the kitchen where things set and wait. */
export function useSpots() {
  return useQuery({ queryKey: ['capacity'], queryFn: fetchCapacity }).data?.data.spots ?? []
}

/** What a spot is called, by its id. */
export function useSpotName() {
  const spots = useSpots()
  return (id?: string) => spots.find((s) => s.id === id)?.name ?? id ?? ''
}

const fetchCapacity = () => askTagged(api.GET('/api/v1/capacity', {}))
const putCapacity = (body: Capacity, revision: number) =>
  askTagged(api.PUT('/api/v1/capacity', { body, params: { header: { 'If-Match': etag(revision) } } }))

/** What there is beside people: trays, moulds, and how long washing down takes. The plan follows. */
export function SpaceForm() {
  const space = usePlanDocument('capacity', words.spaceAndMoulds, fetchCapacity, putCapacity, words.spaceSaved)
  const { value: capacity, set: setCapacity, refused } = space
  if (!capacity) return null
  const spot = (i: number, change: Partial<Capacity['spots'][number]>) =>
    setCapacity({ ...capacity, spots: capacity.spots.map((s, j) => (j === i ? { ...s, ...change } : s)) })
  const fault = (path: string) =>
    refused?.at(path) && (
      <span className="fault" role="alert">
        {refused.at(path)}
      </span>
    )
  const mould = (i: number, count: number) =>
    setCapacity({ ...capacity, moulds: capacity.moulds.map((m, j) => (j === i ? { ...m, count } : m)) })
  return (
    <section className="room" aria-label={words.spaceAndMoulds}>
      <h2>{words.spaceAndMoulds}</h2>
      <p className="soft">{words.piecesNeedAPlaceTo}</p>
      {space.notice}
      <table className="spots">
        <thead>
          <tr>
            <th>{words.storageSpot}</th>
            <th>{words.trays}</th>
            <th>{words.temperature}</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {capacity.spots.map((s, i) => (
            <tr key={s.id || i}>
              <td>
                <Input
                  size="small"
                  aria-label={words.nameOfSpot(i + 1)}
                  value={s.name}
                  placeholder={words.porchCellarSecondFridge}
                  onChange={(e) => spot(i, { name: e.target.value })}
                  style={{ width: 190 }}
                />
                {fault(`spots[${i}].name`)}
              </td>
              <td>
                <InputNumber
                  size="small"
                  aria-label={words.traysIn(s.name || words.theNewSpot)}
                  min={0}
                  max={500}
                  value={s.trays}
                  style={{ width: 64 }}
                  onChange={(n) => n !== null && spot(i, { trays: n })}
                />
                {fault(`spots[${i}].trays`)}
              </td>
              <td>
                <Degrees
                  size="small"
                  label={words.temperatureOf(s.name || words.theNewSpot)}
                  value={s.celsius}
                  placeholder={words.kitchen}
                  set={(celsius) => spot(i, { celsius })}
                  wrong={!!refused?.at(`spots[${i}].celsius`)}
                />
                {fault(`spots[${i}].celsius`)}
              </td>
              <td>
                {!always.includes(s.id ?? '') && (
                  <Button
                    type="text"
                    size="small"
                    aria-label={words.remove(s.name || words.theNewSpot)}
                    onClick={() => setCapacity({ ...capacity, spots: capacity.spots.filter((_, j) => j !== i) })}
                  >
                    ×
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button
        type="link"
        className="link"
        onClick={() => setCapacity({ ...capacity, spots: [...capacity.spots, { name: '', trays: 2 }] })}
      >
        {words.addAStorageSpot}
      </Button>
      {fault('spots')}
      <div className="room-fields">
        <label>
          {words.cleaningDownTakes}{' '}
          <InputNumber
            size="small"
            aria-label={words.minutesOfWashingDown}
            min={0}
            max={240}
            value={capacity.washdown}
            style={{ width: 64 }}
            onChange={(n) => n !== null && setCapacity({ ...capacity, washdown: n })}
          />{' '}
          {words.min}
        </label>
      </div>
      <div className="room-fields">
        {capacity.moulds.map((m, i) => (
          <label key={m.tool}>
            {words.mouldsOf} {m.for?.join(', ')}{' '}
            <InputNumber
              size="small"
              aria-label={words.mouldsOf2(m.for?.join(', ') ?? '')}
              min={1}
              max={200}
              value={m.count}
              style={{ width: 58 }}
              onChange={(n) => n !== null && mould(i, n)}
            />{' '}
            <span className="soft">{m.text}</span>
            {refused?.at(`moulds[${i}].count`) && (
              <span className="fault" role="alert">
                {refused.at(`moulds[${i}].count`)}
              </span>
            )}
          </label>
        ))}
      </div>
      <p>
        <Button disabled={!space.dirty} loading={space.saving} onClick={() => space.save()}>
          {words.saveSpaceAndMoulds}
        </Button>
        {refused && !refused.problem.errors?.length && (
          <span className="fault" role="alert">
            {refused.message}
          </span>
        )}
      </p>
    </section>
  )
}
