import {
  benchLinkMaxBytes,
  benchLinkVersion,
  flightColumns,
  senseColumns,
  streams as streamTable,
  supersededCode,
  type BoardSetting,
  type BesideName,
} from '@taraf/contract'
import { expectThat, Peer } from './peer'

export interface Rule {
  readonly name: string
  readonly run: (url: string, peer: Peer) => Promise<void>
}

const sense = (streams?: BesideName[]) =>
  ({ ask: 'sense', stage: 'raw', rateHz: 200, rows: 2, ...(streams === undefined ? {} : { streams }) }) as const
const listed = async (peer: Peer): Promise<BoardSetting[]> => (await peer.ask({ ask: 'settings.list' })).settings
/** A setting that may be changed without harm while nothing turns: the level trim, or the first that is a plain number. */
const harmless = async (peer: Peer): Promise<BoardSetting> => {
  const settings = await listed(peer)
  const found = settings.find((s) => s.name === 'level.roll') ?? settings.find((s) => s.choices === undefined && s.max > s.min)
  if (found === undefined) throw new Error('no setting can be tried')
  return found
}
const valueOf = async (peer: Peer, name: string) => (await listed(peer)).find((s) => s.name === name)
const other = ({ value, min, max }: BoardSetting) =>
  value + (max - min) / 64 <= max ? value + (max - min) / 64 : value - (max - min) / 64

/** Restarts and comes back with a new link. */
const restart = async (url: string, peer: Peer): Promise<Peer> => {
  const { backInMs } = await peer.ask({ ask: 'restart' })
  await peer.until('the close after a restart', () => peer.closedWith !== null, 2_000)
  expectThat(peer.closedWith === 1012, `a restart closes with 1012, not ${peer.closedWith}`)
  const end = Date.now() + backInMs + 3_000
  for (;;) {
    try {
      return await Peer.open(url, 500)
    } catch (error) {
      if (Date.now() > end) throw error
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
  }
}

/** What a speaker must do, in the order of docs/bench-link.md. Nothing here turns a motor or writes an image. */
export const rules: readonly Rule[] = [
  {
    name: 'hello answers the version and the state, and refuses another version',
    run: async (_url, peer) => {
      const hello = await peer.ask({ ask: 'hello', version: benchLinkVersion })
      expectThat(hello.version === benchLinkVersion, `it says version ${hello.version}`)
      expectThat(hello.bootedAtMs <= Date.now() + 60_000, 'the start of its clock is in the future')
      await peer.refused({ ask: 'hello', version: benchLinkVersion + 7 }, 'version')
    },
  },
  {
    name: 'identity, state, loop, sockets, sensors and ESCs are as specified',
    run: async (_url, peer) => {
      const { board, firmware, loader } = await peer.ask({ ask: 'identity' })
      expectThat(board.length > 0, 'the board has no serial')
      expectThat(loader || firmware !== null, 'a board out of its loader must say its firmware')
      await peer.ask({ ask: 'state' })
      const { load, jitter, rateHz } = await peer.ask({ ask: 'loop' })
      expectThat(load >= 0 && load <= 1 && jitter >= 0 && rateHz > 0, 'loop load or jitter is no share')
      await peer.ask({ ask: 'sockets.list' })
      await peer.ask({ ask: 'sensors.list' })
      const { escs, ranges } = await peer.ask({ ask: 'escs.list' })
      for (const { found, settings } of escs) {
        expectThat(found === (settings !== null), 'an ESC that is not found must have no settings')
        for (const [name, value] of Object.entries(settings ?? {})) {
          const range = ranges[name]
          expectThat(
            range !== undefined && value >= range.min && value <= range.max,
            `ESC setting ${name} = ${value} has no range or is beyond it`,
          )
        }
      }
    },
  },
  {
    name: 'settings are listed once each, in their ranges',
    run: async (_url, peer) => {
      const settings = await listed(peer)
      expectThat(new Set(settings.map((s) => s.name)).size === settings.length, 'a name is listed twice')
      for (const { name, value, saved, factory, min, max, choices } of settings) {
        expectThat(
          [value, saved, factory].every((v) => v >= min && v <= max),
          `${name} lies outside its own range`,
        )
        expectThat(
          choices === undefined || choices.length === max - min + 1,
          `${name} has ${choices?.length} choices for ${min} to ${max}`,
        )
      }
    },
  },
  {
    name: 'a write is all or none: an unknown name or a value out of range writes nothing',
    run: async (_url, peer) => {
      const one = await harmless(peer)
      await peer.refused({ ask: 'settings.write', values: { [one.name]: other(one), 'no.such.setting': 1 } }, 'out-of-range')
      await peer.refused({ ask: 'settings.write', values: { [one.name]: one.max + 1 } }, 'out-of-range')
      expectThat((await valueOf(peer, one.name))?.value === one.value, `${one.name} changed although the write was refused`)
    },
  },
  {
    name: 'a write is in force at once, and lost at a restart unless it was saved',
    run: async (url, first) => {
      const one = await harmless(first)
      await first.ask({ ask: 'settings.write', values: { [one.name]: other(one) } })
      const written = await valueOf(first, one.name)
      expectThat(Math.abs((written?.value ?? NaN) - other(one)) < 1e-6, 'the value written is not in force')
      expectThat(written?.saved === one.saved, 'a write must not save')
      const second = await restart(url, first)
      expectThat((await valueOf(second, one.name))?.value === one.saved, 'an unsaved value outlived a restart')
      await second.ask({ ask: 'settings.write', values: { [one.name]: other(one) } })
      await second.ask({ ask: 'settings.save' })
      const third = await restart(url, second)
      const kept = await valueOf(third, one.name)
      await third.ask({ ask: 'settings.write', values: { [one.name]: one.value } })
      await third.ask({ ask: 'settings.save' })
      third.close()
      expectThat(Math.abs((kept?.saved ?? NaN) - other(one)) < 1e-6, 'a saved value was lost at a restart')
    },
  },
  {
    name: 'samples come 200 a second without a gap; a new sense starts at 0',
    run: async (_url, peer) => {
      await peer.ask(sense())
      const blocks = () => peer.tells.filter((t) => t.tell === 'sense')
      await peer.until('a second of samples', () => blocks().length >= 110)
      const seen = blocks().slice(0, 110)
      seen.forEach(({ seq, t, values, stage }, i) => {
        expectThat(seq === i, `block ${i} carries seq ${seq}`)
        expectThat(stage === 'raw', 'the stage is not the one asked for')
        expectThat(t.length === 2 && values.length === 2 * senseColumns.length, 'a block has not the rows asked for')
      })
      const times = seen.flatMap((b) => [...b.t])
      const steps = times.slice(1).map((t, i) => t - (times[i] as number))
      expectThat(
        steps.every((s) => Math.abs(s - 0.005) < 0.0005),
        'time does not rise by 5 ms a sample',
      )
      peer.tells.length = 0
      await peer.ask(sense())
      await peer.until('a block after a new sense', () => blocks().some((b) => b.seq === 0))
    },
  },
  {
    name: 'every stream asked for has its columns and rising times',
    run: async (_url, peer) => {
      const { sensors } = await peer.ask({ ask: 'sensors.list' })
      const has = (name: string) => sensors.some((s) => s.name === name && s.found)
      const names: BesideName[] = ['outputs', 'escs', 'power']
      if (has('compass')) names.push('mag')
      if (has('baro')) names.push('baro')
      await peer.ask(sense(names))
      for (const name of names) {
        const blocks = () => peer.tells.flatMap((t) => (t.tell === 'stream' && t.stream === name ? [t] : []))
        await peer.until(`stream ${name}`, () => blocks().length >= 2)
        let before = -Infinity
        for (const { t, values } of blocks()) {
          expectThat(values.length === t.length * streamTable[name].columns.length, `${name} has not its columns`)
          for (const time of t) expectThat(time > before, `${name}: time does not rise`)
          before = t[t.length - 1] as number
        }
      }
    },
  },
  {
    name: 'a burst is 2 kHz or faster, in six columns',
    run: async (_url, peer) => {
      const { rateHz, values } = await peer.ask({ ask: 'burst', seconds: 0.25 })
      expectThat(rateHz >= 2000, `it is ${rateHz} Hz`)
      expectThat(values.length === 6 * Math.round(rateHz * 0.25), 'it has not the rows of its time')
      expectThat(values.every(Number.isFinite), 'it holds what is no number')
    },
  },
  {
    name: 'a permit wants the right battery connection and props, and a spin the right token',
    run: async (_url, peer) => {
      const { state } = await peer.ask({ ask: 'state' })
      const permit = { ask: 'permit', kind: 'spin', props: 'off', powerId: state.powerId } as const
      await peer.refused({ ...permit, powerId: `${state.powerId}?` }, 'power-changed')
      await peer.refused({ ...permit, props: 'on' }, 'props', 'no-battery')
      if (state.power === 'cable') await peer.refused(permit, 'no-battery')
      await peer.refused({ ask: 'spin', token: 'not mine', values: [{ output: 1, share: 0.1 }] }, 'token')
      await peer.refused({ ask: 'permit.drop', token: 'not mine' }, 'token')
      await peer.ask({ ask: 'stop' })
      const after = await peer.ask({ ask: 'state' })
      expectThat(after.state.motors === 'still' && after.state.permit === null, 'something turns or holds a permit')
    },
  },
  {
    name: 'an image that was not begun is not written, read or ended',
    run: async (_url, peer) => {
      await peer.refused({ ask: 'image.write', address: 0, data: new Uint8Array(4) }, 'not-loading')
      await peer.refused({ ask: 'image.read', address: 0, length: 4 }, 'not-loading')
      await peer.refused({ ask: 'image.end', sha256: '0'.repeat(64) }, 'not-loading')
    },
  },
  {
    name: 'it says where an image goes, and asking that erases nothing',
    run: async (_url, peer) => {
      const before = await peer.ask({ ask: 'identity' })
      const { start, bytes, identityAt, blockBytes, written } = await peer.ask({ ask: 'image.map' })
      expectThat(identityAt >= start && identityAt + 256 <= start + bytes, 'the identity block lies outside the flash')
      expectThat(blockBytes > 0 && blockBytes <= bytes, 'a block must have bytes, and fit')
      expectThat(before.loader || written === 0, 'nothing is written while an image runs')
      const after = await peer.ask({ ask: 'identity' })
      expectThat(after.loader === before.loader, 'asking for the map must not enter the loader')
    },
  },
  {
    name: 'its log is read from an entry on, numbers rising',
    run: async (_url, peer) => {
      const { entries } = await peer.ask({ ask: 'log.read', from: 0, most: 50 })
      entries.slice(1).forEach((e, i) => expectThat(e.entry > (entries[i]?.entry ?? Infinity), 'entry numbers do not rise'))
      const last = entries.at(-1)
      if (last === undefined) return
      const rest = await peer.ask({ ask: 'log.read', from: last.entry + 1, most: 1 })
      expectThat(
        rest.entries.every((e) => e.entry > last.entry),
        'an entry before the one asked for came',
      )
    },
  },
  {
    name: 'its flight is read row by row, as many columns as there are; before any flight there is none',
    run: async (_url, peer) => {
      const { count, t, values } = await peer.ask({ ask: 'log.rows', from: 0, most: 2000 })
      expectThat(t.length === Math.min(count, 2000), 'rows are missing, or there are too many')
      expectThat(values.length === t.length * flightColumns.length, 'a row has other columns than it must')
      const burst = await peer.ask({ ask: 'log.burst' })
      expectThat(burst.values.length % 6 === 0 && (count > 0 || burst.values.length === 0), 'a burst has six columns')
      await peer.refused({ ask: 'log.rows', from: 0, most: 2001 }, 'malformed')
    },
  },
  {
    name: 'what cannot be read is refused by name, and it goes on',
    run: async (_url, peer) => {
      peer.socket.send(Buffer.from([0xff, 0x00, 0x13]))
      expectThat((await peer.namelessRefusal()).refusal?.type === 'malformed', 'broken CBOR is not refused as malformed')
      peer.socket.send('words')
      expectThat((await peer.namelessRefusal()).refusal?.type === 'malformed', 'a text frame is not refused as malformed')
      await peer.refused({ ask: 'sing' }, 'unknown')
      await peer.refused({ ask: 'identity', loud: true }, 'malformed')
      await peer.refused({ ask: 'sense', stage: 'raw', rateHz: 199, rows: 2 }, 'malformed')
      await peer.ask({ ask: 'identity' })
    },
  },
  {
    name: 'a peer that keeps sending what cannot be read is closed with 1008',
    run: async (_url, peer) => {
      for (let i = 0; i < 25; i++) if (peer.closedWith === null) peer.socket.send(Buffer.from([0xff]))
      await peer.until('the close', () => peer.closedWith !== null)
      expectThat(peer.closedWith === 1008, `it closed with ${peer.closedWith}`)
    },
  },
  {
    name: 'a message over 256 KiB closes the link with 1009',
    run: async (_url, peer) => {
      peer.socket.send(new Uint8Array(benchLinkMaxBytes + 1))
      await peer.until('the close', () => peer.closedWith !== null)
      expectThat(peer.closedWith === 1009, `it closed with ${peer.closedWith}`)
    },
  },
  {
    name: 'a peer that stops reading is dropped',
    run: async (_url, peer) => {
      peer.socket.pause()
      for (let i = 0; i < 800; i++) peer.send({ id: 10_000 + i, ask: 'settings.list' })
      await new Promise((resolve) => setTimeout(resolve, 1_500))
      peer.socket.resume()
      await peer.until('the close', () => peer.closedWith !== null, 10_000)
    },
  },
  {
    name: 'a link that a browser makes for some page is refused',
    run: async (url) => {
      const made = await Peer.open(url, 2_000, 'http://elsewhere.example').then(
        (peer) => (peer.close(), true),
        () => false,
      )
      expectThat(!made, 'it took a link that named the page of another site')
    },
  },
  {
    name: 'the newest link takes over: the one before is closed with 4001',
    run: async (url, peer) => {
      await peer.ask({ ask: 'identity' })
      const newer = await Peer.open(url)
      await newer.ask({ ask: 'identity' })
      await peer.until('the close', () => peer.closedWith !== null)
      expectThat(peer.closedWith === supersededCode, `it closed with ${peer.closedWith}`)
      newer.close()
    },
  },
  {
    name: 'a link with an older lease is refused and closed with 4001, and the one with the newer goes on',
    run: async (url) => {
      const hello = (lease: number) => ({ ask: 'hello', version: benchLinkVersion, lease }) as const
      const newer = await Peer.open(url)
      await newer.ask(hello(2))
      const older = await Peer.open(url)
      await older.refused(hello(1), 'superseded')
      await older.until('the close', () => older.closedWith !== null)
      expectThat(older.closedWith === supersededCode, `it closed with ${older.closedWith}`)
      const nameless = await Peer.open(url)
      await nameless.refused({ ask: 'stop' }, 'superseded')
      await newer.ask({ ask: 'state' })
      newer.close()
    },
  },
]

export interface RuleResult {
  readonly rule: string
  /** Null where it holds. */
  readonly broken: string | null
}

/** Tries every rule on a speaker, each on its own link. */
export const checkSpeaker = async (
  url: string,
  tell: (result: RuleResult) => void = () => {},
  chosen: readonly Rule[] = rules,
): Promise<RuleResult[]> => {
  const results: RuleResult[] = []
  for (const { name, run } of chosen) {
    let broken: string | null = null
    try {
      const peer = await Peer.open(url)
      try {
        await run(url, peer)
      } finally {
        peer.close()
      }
    } catch (error) {
      broken = error instanceof Error ? error.message : String(error)
    }
    const result = { rule: name, broken }
    results.push(result)
    tell(result)
  }
  return results
}
