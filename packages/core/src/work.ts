import type { Change, Work } from '@taraf/contract'

/** What each work that a remedy names changes of the airframe, as it is recorded; how it is held changes nothing. */
export const changeOfWork: Readonly<Record<Work, Change | null>> = {
  'fasten board': { what: 'part', part: 'board', act: 'fastened' },
  // Another board is told by its serial, once it is linked.
  'replace board': null,
  'seat board': { what: 'remount' },
  'hold by board edges': null,
  'replace compass': { what: 'part', part: 'compass', act: 'replaced' },
  'replace barometer': { what: 'part', part: 'barometer', act: 'replaced' },
  'clear short': { what: 'part', part: 'power wiring', act: 'replaced' },
  'unplug what draws': { what: 'part', part: 'power wiring', act: 'replaced' },
  'replace regulator': { what: 'part', part: 'regulator', act: 'replaced' },
  'fit video antenna': { what: 'part', part: 'video antenna', act: 'fastened' },
  'replace motor': { what: 'part', part: 'motor', act: 'replaced' },
  'unplug past the board': { what: 'part', part: 'receiver leads', act: 'replaced' },
  'update part': { what: 'part', part: 'part firmware', act: 'replaced' },
  'reseat plug': { what: 'part', part: 'sockets', act: 'fastened' },
  'move plug': { what: 'part', part: 'sockets', act: 'replaced' },
  'choose model': { what: 'transmitter', words: 'another model chosen' },
  'bind receiver': { what: 'transmitter', words: 'bound again' },
  'calibrate sticks': { what: 'transmitter', words: 'sticks calibrated' },
  'plug receiver lead': { what: 'part', part: 'receiver leads', act: 'fastened' },
  'place receiver antenna': { what: 'part', part: 'receiver antenna', act: 'fastened' },
  'replace receiver': { what: 'part', part: 'receiver', act: 'replaced' },
  'fit telemetry wire': { what: 'part', part: 'telemetry wire', act: 'fastened' },
  'reseat ESC plug': { what: 'part', part: 'ESC', act: 'fastened' },
  'replace ESC': { what: 'part', part: 'ESC', act: 'replaced' },
  'swap motor leads': { what: 'lead', words: 'two leads of a motor swapped' },
  'put right prop': { what: 'prop', words: 'a prop put on its right position' },
  'replace prop': { what: 'prop', words: 'a prop replaced' },
  'replace position receiver': { what: 'part', part: 'position receiver', act: 'replaced' },
}
