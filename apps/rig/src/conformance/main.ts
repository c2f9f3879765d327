import { checkSpeaker } from './rules'

/** npm run bench-link:check -- URL: tries every rule of Bench Link on a speaker. Exit status 1 where one is broken. */
const [url] = process.argv.slice(2)
if (url === undefined || !/^wss?:\/\//.test(url)) {
  console.error('Name the speaker: npm run bench-link:check -- ws://host:port/bench/name')
  process.exit(2)
}
const results = await checkSpeaker(url, ({ rule, broken }) =>
  console.log(`${broken === null ? 'holds ' : 'BROKEN'}  ${rule}${broken === null ? '' : `\n        ${broken}`}`),
)
const broken = results.filter((r) => r.broken !== null).length
console.log(`${results.length - broken} rules hold, ${broken} broken`)
process.exit(broken === 0 ? 0 : 1)
