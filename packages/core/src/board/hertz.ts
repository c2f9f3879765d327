/** A rate as a board says it, such as `4 kHz`, in Hz; 0 where it is none. */
export const hertz = (words: string): number => {
  const found = /^(\d+(?:\.\d+)?) ?(k?)Hz$/.exec(words)
  return found === null ? 0 : Number(found[1]) * (found[2] === 'k' ? 1000 : 1)
}
