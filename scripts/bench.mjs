// npm run bench [-- --soak MINUTES]: the figures, each a median of at least five runs, as ratios to a baseline of the same run.
import { parseArgs } from 'node:util'
import { erase } from './lib/cluster.mjs'
import { wantDebian, wantNode, wantPackages } from './lib/install.mjs'
import { run, say } from './lib/say.mjs'
import { bringUp } from './lib/supervise.mjs'
import { wantWeb } from './lib/web.mjs'

const benches = 20

await run(async () => {
  const { values } = parseArgs({ options: { soak: { type: 'string', default: '1' } } })
  wantNode()
  wantPackages()
  wantDebian(['postgresql', 'chromium'])
  wantWeb()
  const { bundleSizes } = await import('./bench/bundle.mjs')
  const { firstLoad, drawnAges, scrolling } = await import('./bench/page.mjs')
  const { guidedFigures } = await import('./bench/guided.mjs')
  const { pressFigures } = await import('./bench/press.mjs')
  const { shopFigures } = await import('./bench/shop.mjs')
  const { busyFigures } = await import('./bench/busy.mjs')
  const { listFigure } = await import('./bench/list.mjs')
  const { serverLoad, soak } = await import('./bench/server.mjs')
  const { addBenches, addMany } = await import('./bench/world.mjs')
  const { campaignSpeed, coreFigures, rigFigures } = await import('./bench/campaign.mjs')
  erase('bench')
  say('Solvers, simulated airframe and campaign ...')
  const rows = [...coreFigures(), ...rigFigures(), campaignSpeed()]
  say('First load, beside a bare page ...')
  const demo = await bringUp({ name: 'bench', quiet: true })
  try {
    rows.push(...bundleSizes(), ...(await firstLoad(demo)))
    say('Guided takes ...')
    rows.push(...(await guidedFigures(demo)))
    say('A finger and a motor ...')
    rows.push(...(await pressFigures(demo)))
    say('Settings, an image and a file of airframes ...')
    rows.push(...(await shopFigures(demo)))
  } finally {
    await demo.stop()
  }
  const up = await bringUp({ name: 'bench', quiet: true, rigEnv: { TARAF_RIG_COUNT: String(benches) } })
  try {
    const world = await addBenches(up, benches)
    say('Drawn ages ...')
    rows.push(await drawnAges(up, world))
    say('Ten thousand airframes ...')
    await addMany(up, 10_000)
    rows.push(...(await scrolling(up)))
    say('A hundred thousand airframes ...')
    rows.push(await listFigure(up))
    say('Server load against a bare relay ...')
    rows.push(...(await serverLoad(up, world)))
    say('Signs of life beside heavy work ...')
    rows.push(...(await busyFigures(up, world)))
    say(`Soak, ${values.soak} min ...`)
    rows.push(await soak(up, world, Number(values.soak)))
  } finally {
    await up.stop()
  }
  console.log(`\n${'figure'.padEnd(74)} ${'found'.padStart(12)} ${'wanted'.padStart(12)}`)
  for (const { figure, found, wanted } of rows) console.log(`${figure.padEnd(74)} ${found.padStart(12)} ${wanted.padStart(12)}`)
})
