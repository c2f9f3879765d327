import { useMemo } from 'react'
import { create } from 'qrcode'
import Svg, { Path, Rect } from 'react-native-svg'

/** A QR code (ISO/IEC 18004), black on white with its quiet zone. */
export const CodeDrawing = ({ text, label, size: side }: { text: string; label: string; size: number }) => {
  const { size, path } = useMemo(() => {
    const { modules } = create(text, { errorCorrectionLevel: 'M' })
    let d = ''
    for (let y = 0; y < modules.size; y++) for (let x = 0; x < modules.size; x++) if (modules.get(x, y)) d += `M${x} ${y}h1v1h-1z`
    return { size: modules.size, path: d }
  }, [text])
  return (
    <Svg width={side} height={side} viewBox={`-4 -4 ${size + 8} ${size + 8}`} role="img" aria-label={label}>
      <Rect x={-4} y={-4} width={size + 8} height={size + 8} fill="#FFFFFF" />
      <Path d={path} fill="#000000" />
    </Svg>
  )
}
