import createClient from 'openapi-fetch'
import { answered } from './reach'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Problem = Schemas['WebProblem']

export const api = createClient<paths>({ baseUrl: '/' })

/** A request that the server refused, with its own words. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail ?? problem.title ?? 'Something went wrong. Try again.')
  }

  get status() {
    return this.problem.status ?? 0
  }

  /** What is wrong with a field, by its JSON path below the body: lines[0].count */
  at(path: string): string | undefined {
    return this.problem.errors?.find((e) => e.location === `body.${path}`)?.message
  }

  /** What a fault is in a word, by what is said of it. */
  code(message: string): string | undefined {
    const at = this.problem.errors?.find((e) => e.message === message)?.location
    return at ? this.problem.codes?.[at] : undefined
  }

  /** Whether any of the faults lies at path or below it. */
  below(path: string): string | undefined {
    return this.problem.errors?.find((e) => e.location?.startsWith(`body.${path}`))?.message
  }
}

/** Whether an error says that there is no such thing, or none any more. */
export const missing = (e: Error) => e instanceof Refused && (e.status === 404 || e.status === 422)

const unreachable: Problem = {
  type: 'about:blank',
  status: 0,
  detail: 'We can’t reach your kitchen. What you typed is still here and will be saved when the connection is back.',
}

/** The data of an answer, or a Refused. */
export async function ask<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let got
  try {
    got = await answer
    answered(true)
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error
    answered(false)
    throw new Refused(unreachable)
  }
  if (got.error !== undefined || !got.response.ok) {
    throw new Refused(
      (got.error as Problem) ?? {
        type: 'about:blank',
        status: got.response.status,
        detail: 'The answer could not be read. Try again.',
      },
    )
  }
  return got.data as T
}

/** The data of an answer with the revision that an edit of it must name. */
export async function askTagged<T>(
  answer: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<{ data: T; revision: number }> {
  const data = await ask(answer)
  return { data, revision: Number((await answer).response.headers.get('ETag')?.replaceAll('"', '')) }
}

export const etag = (revision: number) => `"${revision}"`
