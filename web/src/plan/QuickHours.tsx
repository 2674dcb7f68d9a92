import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, askTagged, etag, Refused, type Schemas } from '../api/client'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import '../starter/starter.css'
import { WeekTins } from '../starter/Week'

type Week = Schemas['PlanningWorkDays']['week']

const words = {
  lead: 'No working hours yet. Touch the days on which you can work; nothing else is needed to plan an order.',
  save: 'Save hours',
  saved: 'Hours saved.',
  more: 'Dates that differ, trays and moulds',
}

/** The hours of the week where they are missed, so that one need not leave what one is at. */
export function QuickHours() {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const stored = useQuery({ queryKey: ['work-days'], queryFn: () => askTagged(api.GET('/api/v1/work-days', {})) })
  const [edited, setWeek] = useState<Week>()
  const week = edited ?? stored.data?.data.week
  const save = useMutation({
    mutationFn: () =>
      askTagged(
        api.PUT('/api/v1/work-days', {
          body: { ...stored.data!.data, week: week! },
          params: { header: { 'If-Match': etag(stored.data!.revision) } },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries()
      say.done('days', words.saved)
    },
  })
  if (!week) return null
  const refused = save.error instanceof Refused ? save.error : undefined
  return (
    <div className="quick-hours empty">
      <p>{words.lead}</p>
      <WeekTins week={week} clock={kitchen.session.clock ?? 24} set={setWeek} fault={(path) => refused?.at(path)} />
      {refused && !refused.problem.errors?.length && (
        <p className="fault" role="alert">
          {refused.message}
        </p>
      )}
      <p>
        <Button type="primary" disabled={!edited} loading={save.isPending} onClick={() => save.mutate()}>
          {words.save}
        </Button>{' '}
        <Link to="/plan/hours">{words.more}</Link>
      </p>
    </div>
  )
}
