import { useQueryClient } from '@tanstack/react-query'
import { App } from 'antd'
import { useState } from 'react'
import { Refused } from '../api/client'

/** What small forms do when they are saved. */
export function useStore() {
  const queries = useQueryClient()
  const { message } = App.useApp()
  const [refused, setRefused] = useState<Refused>()
  const shown = refused?.problem.errors?.some((e) => e.location && e.location !== 'body')
  return {
    fault: (path: string) =>
      refused?.at(path) && (
        <span key={path} className="fault" role="alert">
          {refused.at(path)}
        </span>
      ),
    store: async (send: Promise<unknown>, name: string, done: (made: unknown) => void) => {
      try {
        const made = await send
        await queries.invalidateQueries()
        void message.success(`${name} is saved.`)
        done(made)
      } catch (error) {
        if (!(error instanceof Refused)) throw error
        setRefused(error)
        if (error.status === 412) await queries.invalidateQueries()
      }
    },
    rest:
      refused && !shown ? (
        <p className="fault" role="alert">
          {refused.status === 412
            ? 'Someone else saved changes first, so yours aren’t saved. Close this, review theirs, then change it again.'
            : refused.message}
        </p>
      ) : null,
  }
}
