import { useEffect, useRef, useState } from 'react'
import { Act } from './Act'
import { Column, Words } from './type'

const everyMs = 150

/** The tag in a code: of a label of ours, or the text as it is. */
export const tagIn = (text: string): string => {
  const found = /\/airframes\/([^/?#]+)/.exec(text)?.[1]
  try {
    return found === undefined ? text.trim() : decodeURIComponent(found)
  } catch {
    return text.trim()
  }
}

const hasCamera = () => typeof globalThis.navigator?.mediaDevices?.getUserMedia === 'function'

/** Reads a tag's code with the camera, where the device has one that may be used. */
export const ScanTag = ({ found }: { found: (tag: string) => void }) => {
  const [on, setOn] = useState(false)
  const [wrong, setWrong] = useState<string | null>(null)
  if (!hasCamera()) return null
  return (
    <Column>
      <Act label={on ? 'Stop the camera' : 'Scan the label'} onPress={() => (setWrong(null), setOn(!on))} />
      {on && <Camera found={(tag) => (setOn(false), found(tag))} failed={(why) => (setOn(false), setWrong(why))} />}
      {wrong !== null && (
        <Words kind="small" role="alert">
          {wrong} Type the tag instead.
        </Words>
      )}
    </Column>
  )
}

const Camera = ({ found, failed }: { found: (tag: string) => void; failed: (why: string) => void }) => {
  const video = useRef<HTMLVideoElement>(null)
  const tell = useRef({ found, failed })
  useEffect(() => {
    tell.current = { found, failed }
  })
  useEffect(() => {
    let stream: MediaStream | null = null
    let timer: ReturnType<typeof setInterval> | undefined
    let ended = false
    const begin = async () => {
      const [{ default: jsQR }, given] = await Promise.all([
        import('jsqr'),
        navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } }),
      ])
      stream = given
      if (ended || video.current === null) return given.getTracks().forEach((track) => track.stop())
      video.current.srcObject = given
      await video.current.play()
      const canvas = document.createElement('canvas')
      const pen = canvas.getContext('2d', { willReadFrequently: true })
      timer = setInterval(() => {
        const { videoWidth: width = 0, videoHeight: height = 0 } = video.current ?? {}
        if (pen === null || video.current === null || width === 0) return
        Object.assign(canvas, { width, height })
        pen.drawImage(video.current, 0, 0)
        const code = jsQR(pen.getImageData(0, 0, width, height).data, width, height)
        if (code !== null && code.data !== '') tell.current.found(tagIn(code.data))
      }, everyMs)
    }
    begin().catch((error: unknown) =>
      tell.current.failed(`The camera cannot be used (${error instanceof Error ? error.message : 'unknown'}).`),
    )
    return () => {
      ended = true
      clearInterval(timer)
      stream?.getTracks().forEach((track) => track.stop())
    }
  }, [])
  return <video ref={video} muted playsInline style={{ width: '100%', maxWidth: 320 }} aria-label="Camera" />
}
