import { offsetMm, sheetAntenna } from './offsetMm'

test('an offset counts once all three are numbers', () => {
  expect(offsetMm({ ahead: '20', right: '0', up: '60,5' })).toEqual({ ahead: 20, right: 0, up: 60.5 })
  expect(offsetMm({ ahead: '\u221220', right: '-1', up: '0' })).toEqual({ ahead: -20, right: -1, up: 0 })
  for (const wrong of ['', 'x', '4000']) expect(offsetMm({ ahead: wrong, right: '0', up: '0' })).toBeNull()
})
test('a sheet says it in metres down, the bench in millimetres up', () => {
  expect(sheetAntenna({ 'position.antennaX': 0.02, 'position.antennaZ': -0.06 })).toEqual({ ahead: 20, right: 0, up: 60 })
  expect(sheetAntenna({ 'board.yaw': 0 })).toBeNull()
})
