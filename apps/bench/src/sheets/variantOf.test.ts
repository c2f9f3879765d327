import type { Sheet } from '@taraf/contract'
import { resolveVariant } from '@taraf/core/compareSheets'
import { variantOf } from './variantOf'

const parent: Sheet = {
  type: 'L4',
  version: 2,
  title: 'Runner',
  geometry: { booms: [], body: { lengthM: 0.3, widthM: 0.1 }, propDiameterM: 0.2 },
  settings: { 'filter.gyro': 120, 'loss.act': 1 },
  limits: { 'level.offset': { max: 0.3, reason: 'long runs' } },
}
const edited: Sheet = {
  ...parent,
  type: 'L4-cold',
  title: 'Runner for the ice',
  version: 1,
  why: '',
  hoverAmps: 16,
  settings: { 'filter.gyro': 100, 'loss.act': 1 },
  variantOf: { type: 'L4', version: 2 },
}

test('a variant is written as what differs, and the server makes the whole of it again', () => {
  const written = variantOf(parent, edited)
  expect(written).toEqual({
    type: 'L4-cold',
    title: 'Runner for the ice',
    hoverAmps: 16,
    settings: { 'filter.gyro': 100 },
    limits: {},
    variantOf: { type: 'L4', version: 2 },
  })
  const { why: _, ...whole } = edited
  expect(resolveVariant(parent, written)).toEqual(whole)
})
