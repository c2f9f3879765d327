/** A place in a sheet as people say it: `geometry.booms[0].radiusM` is "geometry, booms 1, radius m"; the name of a setting stays as it is. */
export const placeWords = (place: string): string =>
  [...place.matchAll(/\["([^"]+)"\]|\[(\d+)\]|([^.[\]]+)/g)]
    .map(([, name, index, key]) => (index === undefined ? `, ${name ?? plain(key ?? '')}` : ` ${Number(index) + 1}`))
    .join('')
    .slice(2)

const plain = (key: string): string => key.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
