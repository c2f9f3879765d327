// npm run bench [-- --soak MINUTES --parts a,b]: the figures, each a median of at least five runs, as ratios to a baseline of the same
// run; each is printed as it is found.
import { parseArgs } from 'node:util'
import { erase } from './lib/cluster.mjs'
import { wantDebian, wantNode, wantPackages } from './lib/install.mjs'
import { run, say } from './lib/say.mjs'
import { bringUp } from './lib/supervise.mjs'
import { wantWeb } from './lib/web.mjs'

const benches = 20

const parts = ['core', 'campaign', 'load', 'guided', 'press', 'held', 'shop', 'scroll', 'list', 'relay', 'busy', 'soak']

await run(async () => {
  const { values } = parseArgs({ options: { soak: { type: 'string', default: '1' }, parts: { type: 'string' } } })
  const wanted = values.parts?.split(',') ?? parts
  const unknown = wanted.find((name) => !parts.includes(name))
  if (unknown !== undefined) throw new Error(`There is no part "${unknown}": there are ${parts.join(', ')}.`)
  wantNode()
  wantPackages()
  wantDebian(['postgresql', 'chromium'])
  await wantWeb()
  const { bundleSizes } = await import('./bench/bundle.mjs')
  const { firstLoad, drawnAges, scrolling } = await import('./bench/page.mjs')
  const { guidedFigures } = await import('./bench/guided.mjs')
  const { pressFigures } = await import('./bench/press.mjs')
  const { heldFigure } = await import('./bench/held.mjs')
  const { shopFigures } = await import('./bench/shop.mjs')
  const { busyFigures } = await import('./bench/busy.mjs')
  const { listFigure } = await import('./bench/list.mjs')
  const { serverLoad, soak } = await import('./bench/server.mjs')
  const { addBenches, addMany } = await import('./bench/world.mjs')
  const { campaignSpeed, coreFigures, rigFigures } = await import('./bench/campaign.mjs')
  /** One part, where it is wanted: its figures are printed as they are found, so that one that ends early loses none. */
  const part = async (name, title, figures) => {
    if (!wanted.includes(name)) return
    say(`${title} ...`)
    for (const row of await figures())
      console.log(`${row.figure.padEnd(74)} ${row.found.padStart(12)} ${row.wanted.padStart(12)}`)
  }
  const some = (...names) => names.some((name) => wanted.includes(name))
  erase('bench')
  console.log(`${'figure'.padEnd(74)} ${'found'.padStart(12)} ${'wanted'.padStart(12)}`)
  await part('core', 'Solvers and simulated airframe', () => [...coreFigures(), ...rigFigures()])
  await part('campaign', 'Campaign', () => [campaignSpeed()])
  if (some('load', 'guided', 'press', 'held', 'shop')) {
    const demo = await bringUp({ name: 'bench', quiet: true })
    try {
      await part('load', 'First load, beside a bare page', async () => [...bundleSizes(), ...(await firstLoad(demo))])
      await part('guided', 'Guided takes', () => guidedFigures(demo))
      await part('press', 'A finger and a motor', () => pressFigures(demo))
      await part('held', 'A page while motors are held', async () => [await heldFigure(demo)])
      await part('shop', 'Settings, an image and a file of airframes', () => shopFigures(demo))
    } finally {
      await demo.stop()
    }
  }
  if (!some('scroll', 'list', 'relay', 'busy', 'soak')) return
  const up = await bringUp({ name: 'bench', quiet: true, rigEnv: { TARAF_RIG_COUNT: String(benches) } })
  try {
    const world = await addBenches(up, benches)
    await part('scroll', 'Drawn ages, and ten thousand airframes', async () => {
      const ages = await drawnAges(up, world)
      await addMany(up, 10_000)
      return [ages, ...(await scrolling(up))]
    })
    await part('list', 'A hundred thousand airframes', async () => [await listFigure(up)])
    await part('relay', 'Server load against a bare relay', () => serverLoad(up, world))
    await part('busy', 'Signs of life beside heavy work', () => busyFigures(up, world))
    await part('soak', `Soak, ${values.soak} min`, async () => [await soak(up, world, Number(values.soak))])
  } finally {
    await up.stop()
  }
})
