import { LastingWatch } from './events'

describe('a value that has lasted', () => {
  const heard = () => new LastingWatch({ stream: 'radio', least: 0.1, lastsS: 2 })
  const rows = (watch: LastingWatch, from: number, to: number, value: number) => {
    let lasted = false
    for (let t = from; t <= to; t += 0.02) lasted = watch.push(t, value) || lasted
    return lasted
  }

  test('has stood for so long, whatever was before', () => {
    const watch = heard()
    expect(rows(watch, 0, 1.9, 1)).toBe(false)
    expect(rows(watch, 1.92, 1.92, 0)).toBe(false)
    expect(rows(watch, 1.94, 3.9, 1)).toBe(false)
    expect(rows(watch, 3.92, 4, 1)).toBe(true)
  })

  test('has not where no rows came meanwhile: three rows before a silence and one after it are no two seconds', () => {
    const watch = heard()
    expect(rows(watch, 16.155, 16.195, 1)).toBe(false)
    expect(watch.push(18.46, 1)).toBe(false)
    expect(rows(watch, 18.48, 20.4, 1)).toBe(false)
    expect(rows(watch, 20.42, 20.5, 1)).toBe(true)
  })

  test('a slow stream has its rows further apart', () => {
    const watch = new LastingWatch({ stream: 'fix', least: 1, lastsS: 10 })
    for (let t = 0; t < 10; t += 1) expect(watch.push(t, 1)).toBe(false)
    expect(watch.push(10, 1)).toBe(true)
  })
})
