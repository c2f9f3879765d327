import { entryOf, type AskBody, type Change, type ReportName, type Reports } from '@taraf/contract'

/**
 * One thing to do at the link: an ask, a wait by the board's own clock, a restart, the battery out and in by hand; or something to keep on the
 * card at once, whatever becomes of the steps that follow.
 */
export type LinkStep =
  | AskBody
  | { readonly waitS: number }
  | { readonly restart: true }
  | { readonly battery: 'off' | 'on' }
  | { readonly keep: Change }

const countS = 1
const busSettings: Readonly<Record<string, string>> = { baro: 'baro.bus', compass: 'compass.bus' }

/**
 * What is asked of a board for its reports, step by step: whoever has the link does each step and hands back the answer. The other bus
 * address of a silent sensor is tried in the working copy alone, and put back.
 */
export function* askReports(names: readonly ReportName[]): Generator<LinkStep, Reports, never> {
  const reports: Reports = {}
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- each answer is that of its ask, as the link has proved it
  const ask = function* (step: LinkStep): Generator<LinkStep, any, any> {
    return yield step
  }
  for (const name of names)
    switch (name) {
      case 'identity':
        reports.identity = yield* ask({ ask: 'identity' })
        // In its loader a board answers nothing else.
        if (reports.identity?.loader === true) return reports
        break
      case 'settings':
        reports.settings = ((yield* ask({ ask: 'settings.list' })) as { settings: NonNullable<Reports['settings']> }).settings
        break
      case 'escs':
        reports.escs = ((yield* ask({ ask: 'escs.list' })) as { escs: NonNullable<Reports['escs']> }).escs
        break
      case 'loop':
        reports.loop = yield* ask({ ask: 'loop' })
        break
      case 'sockets': {
        const { sockets: before } = yield* ask({ ask: 'sockets.list' })
        yield* ask({ waitS: countS })
        const { sockets: after } = yield* ask({ ask: 'sockets.list' })
        reports.sockets = [
          { t: 0, sockets: before },
          { t: countS, sockets: after },
        ]
        break
      }
      case 'sensors': {
        const { sensors } = (yield* ask({ ask: 'sensors.list' })) as { sensors: NonNullable<Reports['sensors']> }
        reports.sensors = []
        for (const sensor of sensors) {
          const bus = entryOf(busSettings, sensor.name)
          if (sensor.found || bus === undefined) {
            reports.sensors.push(sensor)
            continue
          }
          const other = 1 - sensor.address
          yield* ask({ ask: 'settings.write', values: { [bus]: other } })
          const { sensors: again } = (yield* ask({ ask: 'sensors.list' })) as { sensors: NonNullable<Reports['sensors']> }
          yield* ask({ ask: 'settings.write', values: { [bus]: sensor.address } })
          const found = again.find((s) => s.name === sensor.name)?.found === true
          reports.sensors.push({ ...sensor, ...(found ? { foundAt: other } : {}) })
        }
        break
      }
    }
  return reports
}
