import { expect, act, link, openCard, setAside, enter, test, verdictIs, verdictOf } from '../bench'
import { hoverAt } from '../hoverWalk'

const [tag, bench] = ['L4-015', 'Tide door bench'] as const

// A crash is a knock: what it spoils is looked at on its own card, and not on the journey to a handover.
test('hover proof: not all is ready, and it is not flown; two outputs exchanged turn it over as it lifts @phone', async ({
  page,
}) => {
  test.setTimeout(180_000)
  await enter(page, 'ines')
  await openCard(page, tag)
  await setAside(page, { allBut: ['hover.hop'] })
  await link(page, bench)
  const { hop, list, hands } = await hoverAt(page, bench)

  await list(['hopPlace'])
  await verdictIs(page, 'refused', 40_000)
  await expect(
    verdictOf(page)
      .getByText(/A clear place/)
      .first(),
  ).toBeVisible()
  await hands({ act: 'battery', source: 'none' }, { act: 'swap outputs', a: 1, b: 2 })

  await hop()
  await verdictIs(page, 'fail', 30_000)
  await expect(
    verdictOf(page)
      .getByText(/It turned over: take Order and direction/)
      .first(),
  ).toBeVisible()
  await expect(act(page, 'Stop all')).toBeVisible()
  await hands({ act: 'swap outputs', a: 1, b: 2 })
})
