import createClient from 'openapi-fetch'
import { againBy } from './again'
import { answered } from './reach'
import { type Problem, Refused } from './refused'
import type { components, paths } from './schema'
import { words } from './words'

export { type Problem, Refused }
export type Schemas = components['schemas']

export const api = createClient<paths>({ baseUrl: '/' })
api.use(againBy())

/** Whether an error says that there is no such thing, or none any more. */
export const missing = (e: Error) => e instanceof Refused && (e.status === 404 || e.status === 422)

const unreachable: Problem = {
  type: 'about:blank',
  status: 0,
  detail: words.weCantReachYourKitchen,
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
