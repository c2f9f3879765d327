import { useLive } from '../store/store'
import { useTakeAtStep } from '../store/takeInHand'
import { ArmedLine } from './ArmedLine'
import { AskLine } from './AskLine'
import { Column, Words } from './type'

/** What is done while the cable is out, one after the other: nobody can lead through it while the board is not heard. */
export const CableOut = ({ check, acts, warns }: { check: string; acts: readonly string[]; warns: string }) => {
  const take = useTakeAtStep(check)
  const isUp = useLive(({ link }) => link?.phase === 'up')
  const isOut = take !== null && !isUp
  return (
    <Column gap="$3">
      <AskLine words={take?.guide?.words ?? take?.want?.ask} />
      {isOut ? (
        <Words kind="strong" color="$fail">
          {warns}
        </Words>
      ) : (
        take !== null && <ArmedLine />
      )}
      <Column gap="$1">
        <Words kind="strong">While the cable is out</Words>
        {acts.map((words, i) => (
          <Words key={words} kind={isOut ? 'strong' : 'small'}>
            {i + 1}. {words}
          </Words>
        ))}
      </Column>
    </Column>
  )
}
