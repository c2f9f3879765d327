import { placeWithin } from './placeWithin'

test('after the sign-in it goes to where one was going, and never to another site', () => {
  expect(placeWithin('/jobs/3/handover?x=1')).toBe('/jobs/3/handover?x=1')
  for (const elsewhere of [undefined, '', 'https://example.org', '//example.org', '/\\example.org', '/sign-in?to=/'])
    expect(placeWithin(elsewhere)).toBe('/')
})
