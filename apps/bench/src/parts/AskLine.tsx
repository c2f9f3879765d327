import { Words } from './type'

/** What the step in hand asks for; nothing while none is. */
export const AskLine = ({ words }: { words: string | undefined }) =>
  words === undefined ? null : (
    <Words kind="heading" data-guide="ask" aria-live="polite">
      {words}
    </Words>
  )
