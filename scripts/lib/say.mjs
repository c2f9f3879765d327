import { fileURLToPath } from 'node:url'
import { dirname, join } from 'node:path'

/** The project's root folder. */
export const root = join(dirname(fileURLToPath(import.meta.url)), '..', '..')

/** Something that the person at the keyboard has to mend: what happened, and what to do. */
export class Stop extends Error {
  constructor(what, todo) {
    super(what)
    this.todo = todo
  }
}

export const say = (text) => process.stderr.write(`${text}\n`)

/** Runs the main function of a script; a Stop ends it with its message, anything else with its stack. */
export const run = async (main) => {
  try {
    const code = await main()
    if (typeof code === 'number') process.exitCode = code
  } catch (error) {
    if (error instanceof Stop) say(`\n${error.message}\nWhat to do: ${error.todo}`)
    else say(`\nTaraf made a mistake while starting.\n${error.stack ?? error}`)
    process.exitCode = 1
  }
}
