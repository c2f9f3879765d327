// Figures of the simulated airframe alone, as rows for the table: run with --expose-gc in its own process.
import { demoShop, drawnAt, rigOf } from '@taraf/demo'
import { actOn, stepS, type Rig } from '@taraf/rig'
import { median } from './median.mjs'

const runs = 5
const stretchS = 60
const airframes = 100

const fresh = (seed: number) => rigOf({ type: 'N4', board: `FB-${seed}`, seed }, demoShop(drawnAt))

/** Simulated over real time while every sample is taken. */
const speed = (rig: Rig, each: (step: number) => void): number => {
  const once = () => {
    const began = performance.now()
    for (let i = 0; i < stretchS / stepS; i++) {
      each(i)
      rig.step('body')
    }
    return (stretchS * 1000) / (performance.now() - began)
  }
  once()
  return median(Array.from({ length: runs }, once))
}

const atRest = speed(fresh(1), () => {})

const spinning = fresh(2)
for (const act of [
  { act: 'props', on: false },
  { act: 'battery', source: 'supply' },
] as const) {
  const wrong = actOn(spinning, act)
  if (wrong !== null) throw new Error(wrong)
}
const permit = spinning.board.grant('spin', 'off', spinning.state().powerId, spinning.power)
if (!('token' in permit)) throw new Error(permit.refused)
const turning = speed(spinning, (i) => {
  if (i % 20 !== 0) return
  const wrong = spinning.board.turn(permit.token, { 1: 0.2, 2: 0.2, 3: 0.2, 4: 0.2 })
  if (wrong !== null) throw new Error(wrong)
})
if (!spinning.turning) throw new Error('nothing turned')

const collect = () => {
  if (gc === undefined) throw new Error('run with --expose-gc')
  gc()
  const { heapUsed, arrayBuffers } = process.memoryUsage()
  return heapUsed + arrayBuffers
}
const before = collect()
const kept = Array.from({ length: airframes }, (_, i) => {
  const rig = fresh(100 + i)
  for (let j = 0; j < 5 / stepS; j++) rig.step('body')
  return rig
})
const megabytes = (collect() - before) / kept.length / 2 ** 20

console.log(
  JSON.stringify([
    { figure: 'simulated airframe at rest, every sample taken, x real time', found: atRest.toFixed(0), wanted: '>= 1000' },
    { figure: 'four motors turning, x real time', found: turning.toFixed(0), wanted: '>= 50' },
    { figure: 'memory of a simulated airframe, MB', found: megabytes.toFixed(2), wanted: '< 5' },
  ]),
)
