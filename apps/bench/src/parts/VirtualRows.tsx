import { useVirtualizer } from '@tanstack/react-virtual'
import { useDeferredValue, useEffect, useRef, type ReactNode } from 'react'
import { View } from '@tamagui/core'

export interface LongListProps {
  readonly label: string
  readonly count: number
  /** How high a row is, or about: what is drawn is measured. */
  readonly rowHeight: number
  readonly keyOf?: (index: number) => string
  readonly row: (index: number) => ReactNode
  /** Told which rows are in sight. */
  readonly see?: (first: number, last: number) => void
  /** Where the list scrolls within a page, px; it fills what is left of the screen where this is not said. */
  readonly height?: number
  readonly role?: 'list' | 'rowgroup'
}

/** See `LongList`. */
export const VirtualRows = ({ label, count, rowHeight, keyOf, row, see, height, role = 'list' }: LongListProps) => {
  const frame = useRef<HTMLDivElement>(null)
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions change with what is scrolled, which is what is drawn here
  const list = useVirtualizer({
    count,
    getScrollElement: () => frame.current,
    estimateSize: () => rowHeight,
    overscan: 6,
    useFlushSync: false,
    ...(keyOf === undefined ? {} : { getItemKey: keyOf }),
  })
  // Many rows that come into sight at once are drawn a few at a time, so that scrolling never waits for them.
  const items = useDeferredValue(list.getVirtualItems())
  const [first, last] = [items[0]?.index ?? 0, items.at(-1)?.index ?? 0]
  useEffect(() => see?.(first, last), [see, first, last])
  return (
    <div
      ref={frame}
      role={role}
      aria-label={label}
      tabIndex={0}
      style={{ overflowY: 'auto', position: 'relative', ...(height === undefined ? { flex: 1, minHeight: 0 } : { height }) }}
    >
      <View height={list.getTotalSize()}>
        {items.map(({ index, key, start }) => (
          <div
            key={key}
            ref={list.measureElement}
            data-index={index}
            style={{ position: 'absolute', top: 0, left: 0, right: 0, transform: `translateY(${start}px)` }}
          >
            {row(index)}
          </div>
        ))}
      </View>
    </div>
  )
}
