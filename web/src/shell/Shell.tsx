import { keepPreviousData, QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query'
import { App, Button, ConfigProvider } from 'antd'
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from 'react'
import { BrowserRouter, Navigate, Outlet, Route, Routes, useLocation, useNavigate } from 'react-router'
import { api, ask, Refused } from '../api/client'
import { Going } from '../account/Going'
import { SayAgain } from '../account/SayAgain'
import { hear } from '../api/live'
import { onReached } from '../api/reach'
import { forgetAnswers, keepAnswers, recallAnswers } from '../device/answers'
import { openDrafts } from '../device/drafts'
import { canKeep, keepFiles } from '../device/register'
import { Patterns } from '../kit/chocolate'
import { spellAs } from '../kit/tongue'
import './shell.css'
import '../kit/face.css'
import { Keys } from './Keys'
import { Kitchen, KitchenContext, useKitchen } from './kitchen'
import { Lid } from './Lid'
import { place, preload } from './place'
import { heard } from '../pots/pot'
import { placesOf } from './roles'
import { Missing } from '../starter/Missing'
import { type Preview, PreviewContext, Shelf } from './Shelf'
import { theme } from './theme'
import { Waiting } from './Waiting'
import { words } from './words'

const SignIn = lazy(() => import('../account/SignIn'))
const LinkPage = lazy(() => import('../account/LinkPage'))
const Join = lazy(() => import('../account/Join'))
const Nowhere = lazy(() => import('../account/Nowhere'))

/** The places, each loaded when it is first gone to. */
const places = {
  start: place(() => import('../starter/Starter')),
  bring: place(() => import('../bring/Bring')),
  kitchen: place(() => import('../account/Settings')),
  you: place(() => import('../account/You')),
  data: place(() => import('../account/YourData')),
  helpers: place(() => import('../account/Helpers')),
  customers: place(() => import('../customers/Customers')),
  events: place(() => import('../events/Events')),
  messages: place(() => import('../messages/Messages')),
  orders: place(() => import('../orders/Orders')),
  order: place(() => import('../orders/OrderPage')),
  treats: place(() => import('../treats/Treats')),
  treat: place(() => import('../treats/TreatPage')),
  mix: place(() => import('../treats/MixPage')),
  recipe: place(() => import('../treats/FromRecipe')),
  plan: place(() => import('../plan/Plan')),
  hours: place(() => import('../plan/Hours')),
  bench: place(() => import('../bench/Bench')),
  newPot: place(() => import('../pots/BeginPot')),
  pot: place(() => import('../pots/PotPage')),
  instruments: place(() => import('../pots/Instruments')),
  logbook: place(() => import('../logbook/Logbook')),
  wrong: place(() => import('../faults/Wrong')),
  practice: place(() => import('../pots/Practice')),
  larder: place(() => import('../larder/Larder')),
  shopping: place(() => import('../larder/Shopping')),
  receipt: place(() => import('../larder/ReceiptPage')),
  file: place(() => import('../larder/FilePage')),
  handover: place(() => import('../handover/Handover')),
  packDay: place(() => import('../packing/PackDay')),
  pack: place(() => import('../packing/PackPage')),
  drive: place(() => import('../drive/DrivePage')),
  lot: place(() => import('../packing/LotPage')),
  till: place(() => import('../till/Till')),
}

// The place that the address names comes along with the session, not after it.
const [, at = '', inside] = location.pathname.split('/')
const first =
  inside && at === 'orders'
    ? 'order'
    : inside && at === 'treats'
      ? inside === 'mixes'
        ? 'mix'
        : inside === 'recipe'
          ? 'recipe'
          : 'treat'
      : (at === 'larder' || at === 'plan') && inside
        ? inside === 'lots'
          ? 'lot'
          : inside
        : at === 'handover' && inside
          ? inside === 'drive'
            ? 'drive'
            : inside === 'packing'
              ? 'packDay'
              : 'pack'
          : at || 'orders'
if (first in places) places[first as keyof typeof places].load().catch(() => {}) // told where it is gone to

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      networkMode: 'always', // the kitchen's server may be at home, where there is no other network
      staleTime: 5_000,
      placeholderData: keepPreviousData,
      retryDelay: (n) => 400 * 2 ** n,
      retry: (n, error) => n < 2 && !(error instanceof Refused && error.status >= 400),
    },
  },
})

// Without a worker the browser's own cache has the places, as long as it is open.
if (canKeep) keepFiles()
else preload(Object.values(places).map((p) => p.load))

const nonce = document.querySelector<HTMLMetaElement>('meta[name=csp-nonce]')?.content

export const Shell = () => (
  <ConfigProvider
    theme={theme}
    csp={{ nonce }}
    getPopupContainer={(near) => near?.closest('dialog') ?? document.body}
    button={{ autoInsertSpace: false }}
  >
    <App message={{ maxCount: 2 }}>
      <QueryClientProvider client={queries}>
        <Patterns />
        <BrowserRouter>
          <Door />
        </BrowserRouter>
      </QueryClientProvider>
    </App>
  </ConfigProvider>
)

/** Signed in or not. */
function Door() {
  const { pathname } = useLocation()
  const link = pathname.startsWith('/link/') || pathname.startsWith('/join/')
  const session = useQuery({
    queryKey: ['session'],
    queryFn: () => ask(api.GET('/api/v1/session', {})),
    refetchInterval: 30_000,
  })
  // Made anew with every answer, and with every one that did not come: its clock goes on.
  const { data, dataUpdatedAt, errorUpdatedAt } = session
  const kitchen = useMemo(
    () => {
      spellAs(data?.country === 'US')
      return data?.signedIn && data.kitchen ? new Kitchen(data, dataUpdatedAt) : null
    },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the clock is read while drawing
    [data, dataUpdatedAt, errorUpdatedAt],
  )
  // What is kept on this device is a person's in one of their kitchens.
  const who = kitchen ? `${kitchen.session.id}@${kitchen.id}` : undefined
  const as = kitchen && `${who} ${kitchen.role}`
  const was = useRef(as)
  useEffect(() => {
    const before = was.current
    if (as) was.current = as
    // In another kitchen, or as something else in this one: nothing of what was shown before stays.
    if (as && before && as !== before) void forgetAnswers().then(() => location.assign('/'))
  }, [as])
  const [ready, setReady] = useState<string>() // whose drafts are read
  useEffect(() => {
    const [person, at] = who?.split('@') ?? []
    if (who) void openDrafts(person!, at!).then(() => setReady(who))
  }, [who])
  useEffect(() => (who ? keepAnswers(queries) : undefined), [who])
  // A session that has ended takes the answers along, however it ended.
  const out = session.data?.signedIn === false
  useEffect(() => {
    if (out) void forgetAnswers()
  }, [out])
  // Opened while the kitchen is out of reach: with what it answered last.
  const away = session.error instanceof Refused && session.error.status === 0 && !session.data
  useEffect(() => {
    if (away) void recallAnswers(queries)
  }, [away])
  useEffect(() => onReached(() => void queries.invalidateQueries()), [])
  if (session.isError && !session.data) {
    return (
      <main className="alone">
        <h1>{words.weCantReachYourKitchen}</h1>
        <p>{session.error.message}</p>
        <Button type="link" className="link" onClick={() => void session.refetch()}>
          {words.tryAgain}
        </Button>
      </main>
    )
  }
  if (!session.data || (who && ready !== who))
    return (
      <p className="loading" role="status">
        {words.liftingTheLid}
      </p>
    )
  if (link) {
    return (
      <Suspense fallback={null}>
        <Routes>
          <Route path="link/:secret" element={<LinkPage />} />
          <Route path="join/:secret" element={<Join />} />
        </Routes>
      </Suspense>
    )
  }
  if (!kitchen && session.data.signedIn) {
    return (
      <Suspense fallback={null}>
        <Nowhere session={session.data} />
        <SayAgain />
      </Suspense>
    )
  }
  if (!kitchen) {
    return (
      <Suspense fallback={null}>
        <SignIn
          demo={session.data.demo}
          mails={session.data.mails}
          toTry={session.data.toTry}
          passkeys={session.data.passkeys}
        />
      </Suspense>
    )
  }
  return (
    <KitchenContext value={kitchen}>
      <Routes>
        <Route path="start" element={<places.start />} />
        <Route element={<Frame />}>
          <Route
            index
            element={
              <Navigate
                to={queries.getQueryData(['opened']) ? '/start' : placesOf[kitchen.role](kitchen.today())[0]![1]}
                replace
              />
            }
          />
          <Route path="orders" element={<places.orders />} />
          <Route path="orders/:id" element={<places.order />} />
          <Route path="customers" element={<places.customers />} />
          <Route path="customers/:name" element={<places.customers />} />
          <Route path="events" element={<places.events />} />
          <Route path="events/:id" element={<places.events />} />
          <Route path="messages" element={<places.messages />} />
          <Route path="messages/rules" element={<places.messages />} />
          <Route path="treats" element={<places.treats />} />
          <Route path="treats/recipe" element={<places.recipe />} />
          <Route path="treats/mixes" element={<Navigate to="/treats" replace />} />
          <Route path="treats/mixes/:id" element={<places.mix />} />
          <Route path="treats/:id" element={<places.treat />} />
          <Route path="plan" element={<places.plan />} />
          <Route path="plan/hours" element={<places.hours />} />
          <Route path="bench" element={<places.bench />} />
          <Route path="bench/instruments" element={<places.instruments />} />
          <Route path="bench/logbook" element={<places.logbook />} />
          <Route path="bench/wrong" element={<places.wrong />} />
          <Route path="bench/practice" element={<places.practice />} />
          <Route path="bench/bowls/new" element={<places.newPot />} />
          <Route path="bench/bowls/:id" element={<places.pot />} />
          <Route path="bench/:day" element={<places.bench />} />
          <Route path="larder" element={<places.larder />} />
          <Route path="larder/shopping" element={<places.shopping />} />
          <Route path="larder/receipt" element={<places.receipt />} />
          <Route path="larder/file" element={<places.file />} />
          <Route path="larder/lots/:id" element={<places.lot />} />
          <Route path="handover" element={<places.handover />} />
          <Route path="handover/drive/:day" element={<places.drive />} />
          <Route path="handover/packing/:day" element={<places.packDay />} />
          <Route path="handover/:id" element={<places.pack />} />
          <Route path="till" element={<places.till />} />
          <Route path="kitchen" element={<places.kitchen />} />
          <Route path="kitchen/you" element={<places.you />} />
          <Route path="kitchen/data" element={<places.data />} />
          <Route path="kitchen/helpers" element={<places.helpers />} />
          <Route path="bring" element={<places.bring />} />
          <Route path="*" element={<Lost />} />
        </Route>
      </Routes>
    </KitchenContext>
  )
}

function Frame() {
  useEffect(() => hear(queries, { pot: heard }), [])
  const [preview, setPreview] = useState<Preview | null>(null)
  const shown = useMemo(() => ({ preview, setPreview }), [preview])
  const navigate = useNavigate()
  const kitchen = useKitchen()
  const { pathname } = useLocation()
  return (
    <PreviewContext value={shown}>
      <a className="skip" href="#table">
        {words.skipToContent}
      </a>
      <Lid />
      {kitchen.mayGo('/bench') && <Shelf open={(day) => void navigate(`/bench/${day}`)} />}
      <Waiting />
      <Going />
      {kitchen.owns && <Missing />}
      <main id="table" className="table" tabIndex={-1}>
        {kitchen.mayGo(pathname) ? <Outlet /> : <NotYours />}
      </main>
      <Keys />
      <SayAgain />
    </PreviewContext>
  )
}

function NotYours() {
  const { role } = useKitchen()
  return (
    <section className="wide">
      <h1>{words.notYours}</h1>
      <p>{words.notYoursWhy(role)}</p>
    </section>
  )
}

const Lost = () => (
  <section className="wide">
    <h1>{words.pageNotFound}</h1>
    <p>{words.pickAPageFromThe}</p>
  </section>
)
