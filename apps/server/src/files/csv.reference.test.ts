import { csvRows, textIn } from './csv'

const rows = (text: string) => csvRows(text, 100).map((r) => r.cells)

// RFC 4180 (October 2005), section 2, "Definition of the CSV Format": each rule with the example that the RFC gives.
describe('RFC 4180, section 2', () => {
  test('1: each record on a line of its own, ended by CRLF', () => {
    expect(rows('aaa,bbb,ccc\r\nzzz,yyy,xxx\r\n')).toEqual([
      ['aaa', 'bbb', 'ccc'],
      ['zzz', 'yyy', 'xxx'],
    ])
  })
  test('2: the last record may have no line break', () => {
    expect(rows('aaa,bbb,ccc\r\nzzz,yyy,xxx')).toHaveLength(2)
  })
  test('3: a header line has the form of any record', () => {
    expect(rows('field_name,field_name,field_name\r\naaa,bbb,ccc\r\n')[0]).toEqual(['field_name', 'field_name', 'field_name'])
  })
  test('4: spaces are part of a field', () => {
    expect(rows('aaa , bbb,ccc')).toEqual([['aaa ', ' bbb', 'ccc']])
  })
  test('5: a field may or may not be in double quotes; a quote within an unquoted one is refused', () => {
    expect(rows('"aaa","bbb","ccc"\r\nzzz,yyy,xxx')).toEqual([
      ['aaa', 'bbb', 'ccc'],
      ['zzz', 'yyy', 'xxx'],
    ])
    expect(() => rows('aa"a,bbb')).toThrow(/quoting is wrong/)
  })
  test('6: line breaks, quotes and commas stand in a quoted field', () => {
    expect(rows('"aaa","b\r\nbb","ccc"\r\nzzz,yyy,xxx')).toEqual([
      ['aaa', 'b\r\nbb', 'ccc'],
      ['zzz', 'yyy', 'xxx'],
    ])
    expect(rows('"a,b",c')).toEqual([['a,b', 'c']])
  })
  test('7: a quote within a quoted field is doubled', () => {
    expect(rows('"aaa","b""bb","ccc"')).toEqual([['aaa', 'b"bb', 'ccc']])
  })
})

// RFC 4180, section 3: the charset parameter; RFC 3629, section 3: what is no UTF-8. RFC 3629, section 6: the byte order mark.
test('text is UTF-8, with or without its mark', () => {
  expect(textIn(Buffer.from('é'))).toBe('é')
  expect(rows(textIn(Buffer.from('\ufeffa,b')))).toEqual([['a', 'b']])
  for (const bytes of [[0xe9], [0xc0, 0xaf], [0xed, 0xa0, 0x80], [0xf5, 0x80, 0x80, 0x80]])
    expect(() => textIn(Buffer.from(bytes))).toThrow(/not in UTF-8/)
})
