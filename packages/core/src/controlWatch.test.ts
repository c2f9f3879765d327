import { ControlWatch, controlWords, type ControlState } from './controlWatch'

const wanted = { leastUs: 100, times: 1, ends: 'back', heldS: 0.1 } as const
const sticks = (roll: number, yaw = 1500) => [roll, 1500, 1000, yaw]

/** Frames at 50 Hz, one for each value of roll. */
const play = (watch: ControlWatch, from: number, ...rolls: number[]) =>
  rolls.map((roll, i) => controlWords(watch.push(from + i * 0.02, sticks(roll)), wanted))
const many = (n: number, us: number) => Array.from({ length: n }, () => us)

test('it says to leave the control until it knows how it lies at rest, then to move it, to let it go, and that it is done', () => {
  const watch = new ControlWatch(wanted)
  const said = play(watch, 0, ...many(12, 1500), ...many(16, 1900), ...many(45, 1502))
  expect([...new Set(said)]).toEqual(['Leave it at rest.', 'Move it.', 'Further, to its end.', 'Let it go back.', 'Done.'])
})

test('a control that moves while its rest is looked for does not become its rest', () => {
  const watch = new ControlWatch(wanted)
  const early = play(watch, 0, ...many(6, 1500), ...many(8, 1900))
  expect(new Set(early)).toEqual(new Set(['Leave it at rest.']))
  play(watch, 0.3, ...many(12, 1500))
  expect(play(watch, 0.6, ...many(16, 1900)).at(-1)).toBe('Let it go back.')
  expect(play(watch, 0.92, ...many(45, 1500)).at(-1)).toBe('Done.')
})

test('two that move together are said', () => {
  const watch = new ControlWatch(wanted)
  play(watch, 0, ...many(12, 1500))
  const both = many(12, 1900)
    .map((roll, i) => watch.push(1 + i * 0.02, sticks(roll, 1100)))
    .at(-1) as ControlState
  expect(both.fault).toBe('two')
  expect(controlWords(both, wanted)).toMatch(/move this control alone/)
})

test('a contact that opens for a moment is no control that is moved, before and while another is', () => {
  const watch = new ControlWatch(wanted)
  // The last channel leaps for 60 ms each second; the first one is moved, and held for half of one.
  const states = Array.from({ length: 200 }, (_, i) =>
    watch.push(i * 0.02, sticks(i >= 90 && i < 115 ? 1900 : 1500, i % 50 >= 30 && i % 50 < 33 ? 2000 : 1500)),
  )
  expect(states[80]).toMatchObject({ channel: null })
  expect(states.at(-1)).toMatchObject({ channel: 1, fault: null, share: 1 })
})

test('a channel that no hand moves, such as the strength, is neither the one that moves nor in the way of its rest', () => {
  const watch = new ControlWatch({ ...wanted, ignores: [2] })
  const row = (roll: number, i: number) => [roll, 1000 + ((37 * i) % 900)]
  let t = 0
  const states = [...Array<number>(12).fill(1500), ...Array<number>(16).fill(1900), ...Array<number>(45).fill(1500)].map(
    (roll, i) => watch.push((t += 0.02), row(roll, i)),
  )
  expect(states.at(-1)).toMatchObject({ channel: 1, fault: null, share: 1 })
})

test('on a receiver that shakes, a control that is held is held all the same', () => {
  const watch = new ControlWatch({ ...wanted, heldS: 0.3 })
  // About 4 us rms, written out: more than a sound receiver ever does.
  const shake = [3, -5, 1, 6, -4, 0, -7, 5, 2, -2, 8, -6, 4, -1, -3, 7]
  const shaking = (n: number, us: number) => Array.from({ length: n }, (_, i) => us + (shake[i % shake.length] ?? 0))
  play(watch, 0, ...shaking(12, 1500))
  expect(play(watch, 0.24, ...shaking(40, 1900)).at(-1)).toBe('Let it go back.')
  expect(play(watch, 1.04, ...shaking(60, 1500)).at(-1)).toBe('Done.')
})
