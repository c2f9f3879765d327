import { lazy, Suspense } from 'react'

const Drawing = lazy(async () => ({ default: (await import('./CodeDrawing')).CodeDrawing }))

/** A QR code (ISO/IEC 18004): what computes it is fetched with the first one. */
export const Code = ({ text, label, size = 180 }: { text: string; label: string; size?: number }) => (
  <Suspense fallback={<div style={{ width: size, height: size }} />}>
    <Drawing text={text} label={label} size={size} />
  </Suspense>
)
