import { drawOf, drawnOrder } from '@taraf/demo'
import { runAirframe } from './campaign'
for (const s of process.argv.slice(3).map(Number)) {
  const d = drawOf(2, null)
  console.log('==', s, drawnOrder(s, d).type, drawnOrder(s, d).faults)
  const n = runAirframe(s, d, Number(process.argv[2]))
  console.log(n.stuck, n.escaped, JSON.stringify(n.disturbed))
}
