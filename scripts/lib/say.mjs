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

/** What an operating system says of files, in words. */
const ofFiles = {
  EACCES: 'This user may not write or read there',
  EPERM: 'This user may not write or read there',
  EROFS: 'Nothing can be written there: the disk is read-only',
  ENOSPC: 'The disk is full',
  EDQUOT: 'The disk is full for this user',
}
const todoOfFiles =
  'Make room or give this user the folder, or name another one: TARAF_DATA=/some/folder npm start. Nothing was lost.'

/** Runs the main function of a script; a Stop ends it with its message, anything else with its stack. */
export const run = async (main) => {
  try {
    const code = await main()
    if (typeof code === 'number') process.exitCode = code
  } catch (error) {
    if (error instanceof Stop) say(`\n${error.message}\nWhat to do: ${error.todo}`)
    else if (error.code in ofFiles) say(`\n${ofFiles[error.code]}: ${error.path ?? error.message}\nWhat to do: ${todoOfFiles}`)
    else say(`\nTaraf made a mistake while starting.\n${error.stack ?? error}`)
    process.exitCode = 1
  }
}
