import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { jsonSchemas } from './formats'
import { handAct } from './hands'
import { problem } from './problem'
import { makeProblem, problemTypes } from './problemTypes'
import { airframeQuery, changeRequest } from './http'
import { senseTell } from './benchLink'

describe('the open formats', () => {
  test('docs/formats/ holds what the schemas say now; renew it with: npm run formats', () => {
    for (const [file, schema] of Object.entries(jsonSchemas()))
      expect(JSON.parse(readFileSync(join(__dirname, '../../../docs/formats', file), 'utf8'))).toEqual(
        JSON.parse(JSON.stringify(schema)),
      )
  })

  test('a column is a list of numbers in JSON', () => {
    expect(JSON.stringify(jsonSchemas()['evidence.schema.json'])).toContain('"items":{"type":"number"}')
  })
})

describe('the contract', () => {
  test('every problem says what to do, under a stable type', () => {
    for (const type of Object.keys(problemTypes) as (keyof typeof problemTypes)[]) {
      const document = problem.parse(makeProblem(type, 'what happened', '/api/x'))
      expect(document.type).toBe(`/problems/${type}`)
      expect(document.todo.length).toBeGreaterThan(10)
      expect(document.status).toBeGreaterThanOrEqual(400)
    }
  })

  test('what is measured cannot be recorded by hand', () => {
    expect(changeRequest.safeParse({ change: { what: 'knock' }, cause: 'fell' }).success).toBe(true)
    expect(changeRequest.safeParse({ change: { what: 'board', from: '1', to: '2' }, cause: 'built it in' }).success).toBe(false)
    expect(changeRequest.safeParse({ change: { what: 'knock' }, cause: '  ' }).success).toBe(false)
  })

  test('a query has defaults and bounds', () => {
    expect(airframeQuery.parse({})).toMatchObject({ search: '', sort: 'tag', down: false, offset: 0, limit: 100 })
    expect(airframeQuery.parse({ down: 'true', limit: '20' })).toMatchObject({ down: true, limit: 20 })
    for (const bad of [{ limit: '0' }, { offset: '-1' }, { sort: 'colour' }, { standing: 'fine' }, { extra: '1' }])
      expect(airframeQuery.safeParse(bad).success).toBe(false)
  })

  test('hands cannot do what a person cannot', () => {
    expect(handAct.safeParse({ act: 'tilt', rollDeg: 400, pitchDeg: 0 }).success).toBe(false)
  })

  test('a sense block carries typed arrays alone', () => {
    expect(senseTell.safeParse({ tell: 'sense', seq: 0, stage: 'body', t: [1, 2], values: [1] }).success).toBe(false)
  })
})
