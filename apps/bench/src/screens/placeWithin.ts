/** Where somebody was going before the sign-in: a place of this application, never another site. */
export const placeWithin = (to: string | undefined): string =>
  to !== undefined && /^\/(?![/\\])/.test(to) && !to.startsWith('/sign-in') ? to : '/'
