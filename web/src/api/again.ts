import type { Middleware } from 'openapi-fetch'

/** Asks the person who they are; false where they leave it. Set by the page that can ask. */
let asking: (() => Promise<boolean>) | undefined
let asked: Promise<boolean> | undefined

export const askBy = (ask?: () => Promise<boolean>) => {
  asking = ask
}

/** Whether the person has said again who they are; several that need it ask once. */
export function sayAgain(): Promise<boolean> {
  asked ??= (asking?.() ?? Promise.resolve(false)).finally(() => (asked = undefined))
  return asked
}

const wantsIt = async (r: Response) =>
  r.status === 403 && ((await r.clone().json()) as { code?: string }).code === 'account.say-again'

/** What needs it is asked again after that, as it was. */
export function againBy(): Middleware {
  const bodies = new Map<string, Request>()
  return {
    onRequest({ request, id }) {
      if (request.method !== 'GET') bodies.set(id, request.clone())
    },
    async onResponse({ request, response, id }) {
      const first = bodies.get(id) ?? request
      bodies.delete(id)
      if (await wantsIt(response).catch(() => false)) return (await sayAgain()) ? fetch(first) : response
      return response
    },
    onError({ id }) {
      bodies.delete(id)
    },
  }
}
