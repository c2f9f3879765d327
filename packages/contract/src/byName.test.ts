import { z } from 'zod'
import { byName, entryOf } from './byName'
import { settings, sheet } from './sheet'

// What every object answers to, by ECMA-262, section 20.1.3.
const everybodys = Object.getOwnPropertyNames(Object.prototype).filter((name) => name !== '__proto__')

test('no map takes a name that every object answers to, and no table answers to one', () => {
  expect(everybodys).toContain('constructor')
  for (const name of everybodys) {
    const map = JSON.parse(`{"${name}": 1, "yaw": 2}`) as Record<string, number>
    expect(byName(z.number()).safeParse(map).success).toBe(false)
    expect(sheet.shape.limits.safeParse({ [name]: { max: 1, reason: 'tried' } }).error?.issues[0]?.message).toMatch(/./)
    expect(settings.safeParse({ [name]: 1 }).success).toBe(false)
    expect(entryOf({ yaw: 2 }, name)).toBeUndefined()
  }
  expect(byName(z.number()).parse({ yaw: 2 })).toEqual({ yaw: 2 })
  expect(entryOf({ yaw: 2 }, 'yaw')).toBe(2)
})

test('one that stands for the ancestor of all objects is not kept', () => {
  const map = byName(z.unknown()).parse(JSON.parse('{"__proto__": {"hidden": 1}, "yaw": 2}'))
  expect([Object.keys(map), (map as { hidden?: number }).hidden]).toEqual([['yaw'], undefined])
})
