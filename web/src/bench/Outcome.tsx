import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { Blank } from '../kit/Blank'
import { useSay } from '../kit/say'
import { Told } from '../kit/Told'
import { Link } from '../shell/Go'
import { whom } from '../shell/kitchen'
import { words } from './words'
import './bench.css'

/** How a batch that is made came out; the till sets it against what was expected. */
export function Outcome({ result, day }: { result: Schemas['BenchResult']; day: string }) {
  const queries = useQueryClient()
  const say = useSay()
  const [good, setGood] = useState(result.good?.toString() ?? '')
  const [took, setTook] = useState(result.minutes?.toString() ?? '')
  const kept = (result.good?.toString() ?? '') === good && (result.minutes?.toString() ?? '') === took
  async function save() {
    try {
      await ask(
        api.PUT('/api/v1/batches/{id}/result', {
          params: { path: { id: result.batch } },
          body: { good: good === '' ? undefined : Number(good), minutes: took === '' ? undefined : Number(took) },
        }),
      )
      await Promise.all([
        queries.invalidateQueries({ queryKey: ['run-sheet', day] }),
        queries.invalidateQueries({ queryKey: ['till'] }),
        queries.invalidateQueries({ queryKey: ['shortfalls'] }),
      ])
      say.done('outcome', words.resultSaved(result.treat))
    } catch (error) {
      say.refused(error)
    }
  }
  return (
    <form
      className="outcome no-print"
      onSubmit={(e) => {
        e.preventDefault()
        void save()
      }}
    >
      <Told
        text={words.cameOut(whom(result.for), result.counted ? words.ofStarted(result.started) : result.sold)}
        parts={{
          treat: <b>{result.treat}</b>,
          good: (
            <Blank
              label={words.goodOfFor(result.sold, result.treat, whom(result.for))}
              inputMode="numeric"
              wide={4}
              value={good}
              placeholder={String(result.likely)}
              onChange={(e) => setGood(e.target.value.replace(/\D/g, ''))}
            />
          ),
          took: (
            <Blank
              label={words.minutesOfFor(result.treat, whom(result.for))}
              inputMode="numeric"
              wide={4}
              value={took}
              placeholder={String(result.expected)}
              onChange={(e) => setTook(e.target.value.replace(/\D/g, ''))}
            />
          ),
        }}
      />
      <Link to={`/bench/logbook?find=${encodeURIComponent(result.treat)}`}>{words.stepsAndPhoto}</Link>
      {!kept && <Button htmlType="submit">{words.save}</Button>}
    </form>
  )
}
