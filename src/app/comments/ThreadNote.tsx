import { useState } from 'react'
import type { Id } from '../../core/model'
import { momentInWords } from '../clock'
import { select } from '../store/shown'
import { useParts } from '../store/state'
import { hide, resolve, type Comment, type Thread } from './comments'
import { ProposalNote } from './ProposalNote'
import { Answer } from './Say'
import { useShown } from './shownThread'

/** A thread: what was said in order, what it proposes, and what can be done with it. */
export function ThreadNote({
  thread,
  about,
}: {
  thread: Thread
  /** What it is about, where that is not plain from where it stands. */
  about: { readonly words: string; readonly fact?: Id } | undefined
}) {
  const { looking } = useParts('looking')
  const [isAnswering, setAnswering] = useState(false)
  const [fault, setFault] = useState<string>()
  const place = useShown(thread.id)
  const { resolved, proposal, isShared, comments } = thread
  const turn = (work: Promise<string | undefined>) => void work.then(setFault)
  return (
    <li
      ref={place}
      tabIndex={-1}
      data-thread={thread.id}
      className={`border-l-[3px] pl-2 outline-none focus-visible:border-primary ${resolved ? 'border-hairline' : 'border-quiet'}`}
    >
      {about && (
        <p className="truncate text-[12px] text-quiet">
          {about.fact === undefined ? (
            <>About {about.words}</>
          ) : (
            <button
              type="button"
              className="verb max-w-full truncate"
              onClick={() => about.fact !== undefined && select([about.fact], { reveal: true })}
            >
              {about.words}
            </button>
          )}
        </p>
      )}
      <ol>
        {comments.map((comment, at) => (
          <Words key={comment.id} comment={comment} isFirst={at === 0} onHide={() => turn(hide(comment))} />
        ))}
      </ol>
      {proposal !== undefined && <ProposalNote thread={thread} />}
      {resolved && (
        <p className="text-[12px] text-quiet">
          ✓ {resolved.taken ? 'Taken over' : 'Resolved'} by {resolved.by}, {momentInWords(resolved.at)}
        </p>
      )}
      {fault && (
        <p role="alert" className="text-error">
          ■ {fault}
        </p>
      )}
      {isAnswering ? (
        <Answer thread={thread.id} isShared={isShared} onEnd={() => setAnswering(false)} />
      ) : (
        <p className="flex gap-3 text-[12px]">
          <button type="button" className="verb" onClick={() => setAnswering(true)}>
            Answer
          </button>
          <button
            type="button"
            className="verb"
            disabled={looking?.thread === thread.id}
            onClick={() => turn(resolve(thread.id, !resolved))}
          >
            {resolved ? 'Open again' : 'Resolve'}
          </button>
          {isShared && <span className="ml-auto text-quiet">readers see this</span>}
        </p>
      )}
    </li>
  )
}

function Words({ comment, isFirst, onHide }: { comment: Comment; isFirst: boolean; onHide: () => void }) {
  const { author, byReader, words, at } = comment
  return (
    <li className={`group ${isFirst ? '' : 'mt-1.5 pl-2.5'}`}>
      <p className="flex items-baseline gap-1.5 text-[12px] text-quiet">
        <span className="min-w-0 truncate font-semibold text-base-content">{author}</span>
        {byReader && <span>reader</span>}
        <span className="whitespace-nowrap tabular-nums">{momentInWords(at)}</span>
        <button
          type="button"
          aria-label={isFirst ? `Take away what ${author} began` : `Take away what ${author} said`}
          title={isFirst ? 'Take it away, with the answers' : 'Take it away'}
          className="ml-auto opacity-0 group-focus-within:opacity-100 group-hover:opacity-100"
          onClick={onHide}
        >
          ×
        </button>
      </p>
      <p className="leading-[18px] break-words whitespace-pre-wrap">{words}</p>
    </li>
  )
}
