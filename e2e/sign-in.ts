import { type FullConfig, request } from '@playwright/test'

/** Signs in once; the tests begin with the session. */
export default async function signIn(config: FullConfig) {
  const { baseURL, storageState } = config.projects[0]!.use
  const context = await request.newContext({ baseURL })
  const answer = await context.post('/api/v1/session', { data: { mail: 'maren@lakeside.example', password: 'three warm tins' } })
  if (!answer.ok()) throw new Error(`sign in: ${answer.status()} ${await answer.text()}`)
  await context.storageState({ path: storageState as string })
  await context.dispose()
}
