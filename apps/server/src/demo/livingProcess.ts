import { demoShop } from '@taraf/demo'
import type { FlownHover } from '@taraf/contract'
import { lifeOf, type LifeOrder } from './life'

// Lives airframes of the demo through, one after the other, and tells its parent each deed as it is done. It ends with its parent.
process.on('disconnect', () => process.exit(0))
process.on('message', ({ orders, shopAtMs }: { orders: readonly LifeOrder[]; shopAtMs: number }) => {
  void live(orders, shopAtMs).then(
    () => process.disconnect(),
    (error: unknown) => {
      console.error(error)
      process.exit(1)
    },
  )
})

/** Resolves once it is on its way: what is still to be sent is lost with the process. */
const tell = (message: object): Promise<void> =>
  new Promise((resolve, reject) => {
    if (process.send === undefined) throw new Error('it has no parent process')
    process.send(message, undefined, undefined, (error: Error | null) => (error === null ? resolve() : reject(error)))
  })

const live = async (orders: readonly LifeOrder[], shopAtMs: number): Promise<void> => {
  const shop = demoShop(new Date(shopAtMs))
  // Hover proofs of others of a type, the newest first.
  const flown = new Map<string, FlownHover[]>()
  for (const order of orders) {
    const ofType = flown.get(order.type) ?? []
    flown.set(order.type, ofType)
    for await (const deed of lifeOf(order, shop, ofType)) await tell({ tag: order.tag, deed })
    await tell({ tag: order.tag, deed: null })
  }
}
