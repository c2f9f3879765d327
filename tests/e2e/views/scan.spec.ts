import { writeFileSync } from 'node:fs'
import { chromium, type Page } from '@playwright/test'
import { create } from 'qrcode'
import { launchOptions } from '../../../scripts/lib/chromium.mjs'
import { expect, act, place, signIn, test } from '../bench'

const [width, height, dot] = [640, 480, 8]

/** A film of one code in the middle of a grey bench (YUV4MPEG2, 4:2:0): what the browser takes for its camera. */
const filmOf = (text: string): Buffer => {
  const { modules } = create(text, { errorCorrectionLevel: 'M' })
  const [left, top] = [(width - modules.size * dot) / 2, (height - modules.size * dot) / 2]
  const light = Buffer.alloc(width * height, 150)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [i, j] = [Math.floor((x - left) / dot), Math.floor((y - top) / dot)]
      if (i < -4 || j < -4 || i >= modules.size + 4 || j >= modules.size + 4) continue
      const inside = i >= 0 && j >= 0 && i < modules.size && j < modules.size
      light[y * width + x] = inside && modules.get(j, i) === 1 ? 30 : 235
    }
  const frame = Buffer.concat([Buffer.from('FRAME\n'), light, Buffer.alloc((width * height) / 2, 128)])
  return Buffer.concat([Buffer.from(`YUV4MPEG2 W${width} H${height} F10:1 Ip A1:1 C420jpeg\n`), frame, frame])
}

/** A browser with its own camera. */
const withCamera = async (
  args: string[],
  size: { width: number; height: number } | null | undefined,
  work: (page: Page) => Promise<void>,
) => {
  const browser = await chromium.launch({
    ...launchOptions,
    args: [...launchOptions.args, '--use-fake-ui-for-media-stream', ...args],
  })
  try {
    const context = await browser.newContext({ baseURL: process.env.TARAF_URL ?? '', ...(size ? { viewport: size } : {}) })
    await work(await context.newPage())
  } finally {
    await browser.close()
  }
}

test('the camera reads the code of a printed label and opens its airframe', async ({ viewport }, info) => {
  const film = info.outputPath('label.y4m')
  writeFileSync(film, filmOf('http://bench.example/airframes/N4-032'))
  const args = ['--use-fake-device-for-media-stream', `--use-file-for-fake-video-capture=${film}`]
  await withCamera(args, viewport, async (page) => {
    await signIn(page, 'ines')
    await place(page, 'Airframes')
    await act(page, 'Scan the label').click()
    await expect(page).toHaveURL(/\/airframes\/N4-032$/)
    await expect(page.getByText('Nest counter, small quad').first()).toBeVisible()
  })
})

test('without a camera it says so, and the tag is typed', async ({ viewport }) => {
  await withCamera([], viewport, async (page) => {
    await signIn(page, 'ines')
    await place(page, 'Airframes')
    await act(page, 'Scan the label').click()
    await expect(page.getByRole('alert').getByText(/The camera cannot be used \(.+\)\. Type the tag instead\./)).toBeVisible()
    await expect(act(page, 'Scan the label')).toBeVisible()
  })
})
