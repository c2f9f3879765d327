import { markPairs, palette, textPairs, type ThemeName } from './palette'

// WCAG 2.2: relative luminance and contrast ratio as its glossary defines them; 1.4.3 asks 4.5 : 1 of text (AA),
// 1.4.11 asks 3 : 1 of marks that carry meaning.
const luminance = (hex: string) => {
  const [r, g, b] = [1, 3, 5]
    .map((i) => parseInt(hex.slice(i, i + 2), 16) / 255)
    .map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4)) as [number, number, number]
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}
const contrast = (a: string, b: string) => {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number]
  return (light + 0.05) / (dark + 0.05)
}

test('the ratio is the one that WCAG defines: 21 for black on white, 4.48 for #777777 on white', () => {
  expect(contrast('#000000', '#FFFFFF')).toBeCloseTo(21, 6)
  expect(contrast('#777777', '#FFFFFF')).toBeCloseTo(4.48, 2)
})

describe.each(Object.keys(palette) as ThemeName[])('in the %s theme', (theme) => {
  const colours = palette[theme]
  test.each(textPairs)('%s on %s can be read', (text, ground) =>
    expect(contrast(colours[text], colours[ground])).toBeGreaterThanOrEqual(4.5),
  )
  test.each(markPairs)('%s on %s can be seen', (mark, ground) =>
    expect(contrast(colours[mark], colours[ground])).toBeGreaterThanOrEqual(3),
  )
})
