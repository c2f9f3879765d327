import { createServer, type Server } from 'node:http'
import { join } from 'node:path'
import compression from 'compression'
import connectPgSimple from 'connect-pg-simple'
import express from 'express'
import session from 'express-session'
import staticGzip from 'express-static-gzip'
import helmet from 'helmet'
import pg from 'pg'
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
import { personOf, sameOrigin } from './http/guard'
import { forgetOldRequests } from './http/once'
import { noSuchRoute, problemHandler } from './http/problem'
import { plainBody } from './http/plainBody'
import { jobsOf } from './jobs/jobs'
import { jobRoutes, openRoutes } from './jobs/routes'
import { Benches } from './benches/benches'
import { Links } from './links/links'
import { cardsOf } from './record/cards'
import { watchBoards } from './watch/boardWatch'
import { benchRoutes } from './benches/routes'
import { LiveFeed } from './live/liveFeed'
import { Notices } from './database/notices'
import { peopleOf } from './people/people'
import { sessionRoutes } from './people/routes'
import { takeRoutes } from './takes/routes'
import { Takes } from './takes/takes'

const signedInMs = 12 * 3600 * 1000

/** The whole server, not yet listening. `stop` ends links, feeds and connections. */
export const buildServer = (
  config: Config,
  log: Logger,
): { server: Server; start: () => Promise<void>; stop: () => Promise<void> } => {
  const db = openDatabase(config.databaseUrl)
  const pool = new pg.Pool({ connectionString: config.databaseUrl, max: 4, connectionTimeoutMillis: 2_000 })
  pool.on('error', (error) => log.warn({ err: error }, 'a database connection of the sessions ended'))
  const notices = new Notices(db, config.databaseUrl, log)
  const people = peopleOf(db)
  const cards = cardsOf(db, notices)
  const links = new Links(db, config, notices, log)
  const benches = new Benches(db, config, links, notices)
  const jobs = jobsOf(db, people, benches, notices, cards)
  const takes = new Takes(db, config, jobs, cards, benches, log)
  const images = new ImageWriting(db, jobs, cards, benches, log)
  watchBoards(db, cards, benches, links, log)
  const doors = { db, jobs, cards, people, benches, isTaking: (job: string) => takes.tellOf(job) !== null }

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

  const feed = new LiveFeed(sessions, links, takes, images, notices, log)

  const app = express()
  app.disable('x-powered-by')
  // Only what may be known is logged: no headers, so no cookies and no keys.
  app.use(
    pinoHttp({
      logger: log,
      serializers: {
        req: (r: { id: unknown; method: string; url: string }) => ({ id: r.id, method: r.method, url: r.url }),
        res: (r: { statusCode: number }) => ({ status: r.statusCode }),
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
  api.use(sameOrigin, express.json({ limit: '100kb' }), plainBody, sessions)
  api.use(
    '/session',
    sessionRoutes(people, (sessionId) => feed.signedOut(sessionId)),
  )
  api.use((request, _response, next) => (personOf(request), next()))
  api.use('/airframes/:tag/jobs', openRoutes(doors))
  api.use('/airframes', airframeRoutes(db, cards))
  api.use('/benches', benchRoutes(db, benches, links))
  api.use('/sheets', sheetRoutes(db))
  api.use('/images', imageRoutes(db))
  api.use('/batch-notes', batchRoutes(db, cards))
  api.use('/jobs/:job', takeRoutes(db, takes), settingsRoutes(doors, links), imageWritingRoutes(db, images))
  api.use('/jobs', jobRoutes(doors))
  api.use('/hands', handsRoutes(benches))
  api.use(noSuchRoute)
  app.use('/api', (_request, response, next) => (response.setHeader('cache-control', 'no-store'), next()), api)
  if (config.webFolder !== null) serveWeb(app, config.webFolder)
  app.use(noSuchRoute)
  app.use(problemHandler(log))

  const server = createServer(app)
  server.on('upgrade', (request, socket, head) => {
    if (request.url === '/live') feed.upgrade(request, socket, head)
    else socket.destroy()
  })
  let forgetting: NodeJS.Timeout | undefined
  const end = async () => {
    clearInterval(forgetting)
    feed.close()
    await links.stop()
    await notices.close()
    server.closeAllConnections()
    server.close()
    await pool.end()
    await db.close()
  }
  let stopping: Promise<void> | null = null
  return {
    server,
    start: async () => {
      await notices.listen()
      links.start()
      forgetting = setInterval(
        () => void forgetOldRequests(db).catch((error: unknown) => log.warn({ err: error }, 'old requests not forgotten')),
        3_600_000,
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
