import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import compression from 'compression'
import connectPgSimple from 'connect-pg-simple'
import express from 'express'
import session from 'express-session'
import staticGzip from 'express-static-gzip'
import helmet from 'helmet'
import pg from 'pg'
import type { Cancel } from '@taraf/takes'
import type { Logger } from 'pino'
import { pinoHttp } from 'pino-http'
import { airframeRoutes } from './airframes/routes'
import { batchRoutes } from './batch/routes'
import { imageRoutes, imageWritingRoutes } from './images/routes'
import { ImageWriting } from './images/writing'
import { settingsRoutes } from './settings/routes'
import { sheetRoutes } from './sheets/routes'
import type { Config } from './config'
import { openDatabase } from './database/database'
import { handsRoutes } from './hands/routes'
import { personOf, presentPerson, sameOrigin } from './http/guard'
import { forgetOldRequests, onceOf } from './http/once'
import { noSuchRoute, problemHandler } from './http/problem'
import { plainBody } from './http/plainBody'
import { jobsOf } from './jobs/jobs'
import { jobRoutes, openRoutes } from './jobs/routes'
import { Benches } from './benches/benches'
import { Links } from './links/links'
import { cardsOf } from './record/cards'
import { watchBoards } from './watch/boardWatch'
import { benchRoutes } from './benches/routes'
import { tellError } from './log'
import { LiveFeed } from './live/liveFeed'
import { Notices } from './database/notices'
import { peopleOf } from './people/people'
import { machinePorts, type Ports } from './ports'
import { peopleRoutes, sessionRoutes } from './people/routes'
import { forgetOldTries, triesOf } from './people/tries'
import { openKeys } from './record/keys'
import { shopOf } from './record/shop'
import { Servers } from './links/servers'
import { RunningTakes } from './record/runningTakes'
import { heatStoreOf } from './takes/heatStore'
import { takeRoutes } from './takes/routes'
import { Takes } from './takes/takes'
import { today } from './today/today'
import { transmitterCards } from './transmitters/transmitters'

const forgetMs = 3_600_000
const signedInMs = 12 * 3600 * 1000

/** The whole server, not yet listening. `stop` ends links, feeds and connections. */
export const buildServer = (
  config: Config,
  log: Logger,
  { clock, dial, wire, work: openWork }: Ports = machinePorts,
): { server: Server; start: () => Promise<void>; stop: () => Promise<void> } => {
  const db = openDatabase(config.databaseUrl, wire)
  const pool = new pg.Pool({ connectionString: config.databaseUrl, max: 4, connectionTimeoutMillis: 2_000, stream: wire })
  pool.on('error', (error) => log.warn({ err: error }, 'a database connection of the sessions ended'))
  const notices = new Notices(db, config.databaseUrl, wire, clock, log)
  const work = openWork()
  const shop = shopOf(db, openKeys(config.keysFolder), clock)
  const people = peopleOf(db, work.passwords, triesOf(db), shop)
  const cards = cardsOf(db, notices, shop)
  const servers = new Servers(db, config, clock, log)
  const links = new Links(db, config, notices, servers, dial, clock, log)
  const benches = new Benches(db, config, links, notices)
  const jobs = jobsOf(db, people, benches, notices, cards, shop)
  const runs = new RunningTakes(db, servers.id)
  const takes = new Takes(db, config, jobs, cards, benches, runs, work.evidence, heatStoreOf(db), clock, log)
  const once = onceOf(db, servers.id)
  const images = new ImageWriting(db, jobs, cards, benches, clock, log)
  links.onLink((_bench, link) => void takes.heatOf(link))
  watchBoards(db, cards, benches, links, clock, log)
  const doors = { db, once, jobs, cards, people, benches, files: work.files }

  const PgStore = connectPgSimple(session)
  const sessions = session({
    name: 'taraf',
    secret: config.sessionSecret,
    resave: false,
    saveUninitialized: false,
    rolling: true,
    cookie: { httpOnly: true, sameSite: 'strict', secure: 'auto', maxAge: signedInMs },
    store: new PgStore({
      pool,
      tableName: 'sessions',
      errorLog: (...details: unknown[]) => log.warn({ details }, 'session store'),
    }),
  })

  const present = presentPerson(people)
  const feed = new LiveFeed({ sessions, present, people, links, servers, takes, images, notices, dial, clock, log })

  const app = express()
  app.disable('x-powered-by')
  // Answers of the API are not kept, so nobody asks whether they changed; files have marks of their own.
  app.disable('etag')
  // Only what may be known is logged: no headers, so no cookies and no keys.
  app.use(
    pinoHttp({
      logger: log,
      serializers: {
        req: (r: { id: unknown; method: string; url: string }) => ({ id: r.id, method: r.method, url: r.url }),
        res: (r: { statusCode: number }) => ({ status: r.statusCode }),
        err: (error: unknown) => tellError(error),
      },
    }),
  )
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          workerSrc: ["'self'", 'blob:'],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
    }),
  )
  app.use(compression())

  const api = express.Router()
  api.get('/health', async (_request, response) => {
    await db.select('SELECT 1 AS up')
    response.json({ up: true })
  })
  api.use(sameOrigin, express.json({ limit: '100kb' }), plainBody, sessions, present)
  api.use(
    '/session',
    sessionRoutes(people, (sessionId) => feed.signedOut(sessionId)),
  )
  api.use((request, _response, next) => (personOf(request), next()))
  api.use('/airframes/:tag/jobs', openRoutes(doors))
  api.use('/airframes', airframeRoutes(db, once, cards, shop, work.files))
  api.use('/benches', benchRoutes(db, once, benches, links))
  api.use('/sheets', sheetRoutes(db, once, shop))
  api.use('/images', imageRoutes(db, once, work.files))
  api.use('/batch-notes', batchRoutes(db, once, cards))
  api.use(
    '/jobs/:job',
    takeRoutes(db, once, takes),
    settingsRoutes(doors, once, links, work.files),
    imageWritingRoutes(once, images),
  )
  api.use('/jobs', jobRoutes(doors))
  api.use('/hands', handsRoutes(benches, clock))
  api.use('/people', peopleRoutes(once, people))
  api.get('/transmitters', async (_request, response) => void response.json(await transmitterCards(db)))
  api.get('/today', async (request, response) => void response.json(await today(db, links, personOf(request))))
  api.use(noSuchRoute)
  app.use('/api', (_request, response, next) => (response.setHeader('cache-control', 'no-store'), next()), api)
  if (config.webFolder !== null) serveWeb(app, config.webFolder)
  app.use(noSuchRoute)
  app.use(problemHandler(log))

  // What fails behind an answer, such as a session that cannot be kept, has nobody left to be told.
  const behind = (error: unknown) => error !== undefined && log.warn({ err: error }, 'after the answer')
  const server = createServer((request, response) => app(request as express.Request, response as express.Response, behind))
  server.on('upgrade', (request, socket, head) => {
    if (request.url === '/live') feed.upgrade(request, socket, head)
    else socket.destroy()
  })
  let stopForgetting: Cancel = () => {}
  const end = async () => {
    stopForgetting()
    feed.close()
    takes.stop()
    await links.stop()
    await servers.stop()
    await notices.close()
    server.closeAllConnections()
    server.close()
    await pool.end()
    await work.close()
    await db.close()
  }
  let stopping: Promise<void> | null = null
  return {
    server,
    start: async () => {
      await servers.start((server.address() as AddressInfo | null)?.port ?? config.port)
      await notices.listen()
      links.start()
      takes.start()
      const forget = async () => {
        await forgetOldRequests(db)
        await forgetOldTries(db, clock.date())
      }
      stopForgetting = clock.every(
        forgetMs,
        () => void forget().catch((error: unknown) => log.warn({ err: error }, 'old requests not forgotten')),
      )
    },
    stop: () => (stopping ??= end()),
  }
}

/** The built application: files by their names, and its one page for every route of the app. */
const serveWeb = (app: express.Express, folder: string): void => {
  const forGood = { immutable: true, maxAge: '1y', fallthrough: false }
  // The build leaves each file compressed beside itself: a phone's first load does not wait for it to be done again.
  app.use(
    '/_expo',
    staticGzip(join(folder, '_expo'), { index: false, enableBrotli: true, orderPreference: ['br'], serveStatic: forGood }),
  )
  app.use('/assets', express.static(join(folder, 'assets'), forGood))
  app.use(express.static(folder, { index: false }))
  // Any other address that a browser asks a page for is a route of the app, which says itself what it does not know.
  app.get(/^\/(?!api\/|live$)/, (request, response, next) => {
    if (request.accepts('html') === false || request.headers['sec-fetch-dest'] === 'script') return next()
    if (isStranger(request)) return response.redirect(302, `/sign-in?to=${encodeURIComponent(request.originalUrl)}`)
    response.sendFile(join(folder, 'index.html'), { headers: { 'cache-control': 'no-cache' } })
  })
}

/**
 * Whoever has no cookie is not signed in, and gets the sign-in at once. From another site the cookie is not sent: then the
 * application asks itself.
 */
const isStranger = ({ path, headers }: express.Request): boolean =>
  path !== '/sign-in' && headers['sec-fetch-site'] !== 'cross-site' && headers.cookie?.includes('taraf=') !== true
