import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import type { Id } from '../../core/model'
import { mentionedIn, reachable } from '../../core/notation'
import { POINTING } from '../frame'
import { spokenOf } from '../speak'
import { hold, propose } from '../store/proposing'
import { useParts, useWorkspace } from '../store/state'
import { authorMail, authorName, callAuthor } from '../sync/author'
import { say } from './comments'

/** What is typed of a place, kept while the page is open in this tab. */
const draftKey = (place: string) => `skivel:saying:${useWorkspace.getState().id}:${place}`
const MOST = 2000

/** Begins a thread about what is selected, about a place that is pointed at, or about the view; or proposes what was changed for it. */
export function Say({ view, about }: { view: Id; about: Id | undefined }) {
  const { placing, pointed, proposing, speaking } = useParts('placing', 'pointed', 'proposing', 'speaking')
  const place = spokenOf(useParts('viewId', 'selection'))
  const [isOpen, setOpen] = useState(() => sessionStorage.getItem(draftKey(place)) !== null)
  // A place belongs to the view on which it was pointed at.
  useEffect(() => forgetPlace, [])
  const opens = isOpen || speaking === place
  const end = () => {
    setOpen(false)
    forgetPlace()
    useWorkspace.setState({ speaking: undefined })
  }
  if (!opens) return null
  const isPointing = placing === POINTING
  return (
    <Form
      place={place}
      placeholder={proposing ? 'Why it should be so' : 'Call somebody with @ and their name'}
      verb={proposing ? 'Propose it' : 'Say it'}
      isReady={proposing === undefined || proposing.length > 0}
      onEnd={end}
      onSay={async (said) => {
        const change = proposing && propose()
        if (proposing && !change) return 'What you changed comes to nothing. Change something first.'
        const at = about === undefined && pointed ? { at: pointed } : {}
        const fault = await say({
          ...said,
          view,
          ...(about === undefined ? at : { fact: about }),
          ...(change && { proposal: change }),
        })
        if (fault === undefined && proposing) hold(false)
        return fault
      }}
    >
      {proposing ? (
        <span className="text-quiet">
          {proposing.length === 0 ? 'Change something first.' : `with ${counted(proposing.length)}`}
        </span>
      ) : (
        <>
          {about === undefined && (
            <button
              type="button"
              className="verb"
              aria-pressed={isPointing || pointed !== undefined}
              onClick={() =>
                useWorkspace.setState({ placing: isPointing || pointed ? undefined : POINTING, pointed: undefined })
              }
            >
              {isPointing ? 'click on the sheet …' : pointed ? 'about that place ×' : 'at a place'}
            </button>
          )}
          <button type="button" className="verb" onClick={() => hold(true)}>
            propose a change
          </button>
        </>
      )}
    </Form>
  )
}

function forgetPlace(): void {
  const { placing } = useWorkspace.getState()
  useWorkspace.setState({ pointed: undefined, ...(placing === POINTING ? { placing: undefined } : {}) })
}

const counted = (count: number): string => (count === 1 ? '1 change' : `${count} changes`)

/** Answers in a thread. */
export function Answer({ thread, isShared, onEnd }: { thread: string; isShared: boolean; onEnd: () => void }) {
  return (
    <Form
      place={thread}
      placeholder={isShared ? 'Read by whoever has the address too' : 'Answer'}
      verb="Answer"
      isReady
      onEnd={onEnd}
      onSay={(said) => say({ ...said, thread })}
    />
  )
}

interface FormProps {
  readonly place: string
  readonly placeholder: string
  readonly verb: string
  readonly isReady: boolean
  /** Answers why it was not taken. */
  readonly onSay: (said: { id: string; words: string; mail?: string }) => Promise<string | undefined>
  readonly onEnd: () => void
  readonly children?: ReactNode
}

/** Words and whose they are. They stay until they are taken, over a reload too. */
function Form({ place, placeholder, verb, isReady, onSay, onEnd, children }: FormProps) {
  const { model } = useParts('model')
  const key = draftKey(place)
  const [words, setWords] = useState(() => sessionStorage.getItem(key) ?? '')
  const [id] = useState(() => crypto.randomUUID())
  const [isSending, setSending] = useState(false)
  const [fault, setFault] = useState<string>()
  const area = useRef<HTMLTextAreaElement>(null)
  useEffect(() => {
    area.current?.focus({ preventScroll: true })
    area.current?.form?.scrollIntoView({ block: 'nearest' })
  }, [])
  const called = useMemo(() => (words.includes('@') ? mentionedIn(model, words) : []), [model, words])
  const write = (text: string) => {
    setWords(text)
    if (text === '') sessionStorage.removeItem(key)
    else sessionStorage.setItem(key, text)
  }
  const end = () => {
    sessionStorage.removeItem(key)
    onEnd()
  }
  const send = async () => {
    if (words.trim() === '' || isSending || !isReady) return
    setSending(true)
    const mail = authorMail()
    const why = await onSay({ id, words, ...(mail === '' ? {} : { mail }) })
    setSending(false)
    setFault(why)
    if (why === undefined) end()
  }
  return (
    <form
      data-testid="say"
      className="mt-1.5"
      onSubmit={(event) => {
        event.preventDefault()
        void send()
      }}
    >
      <textarea
        ref={area}
        aria-label={verb === 'Answer' ? 'Answer' : 'What you say'}
        rows={Math.max(2, Math.min(8, words.split('\n').length + Math.floor(words.length / 40)))}
        maxLength={MOST}
        placeholder={placeholder}
        className="w-full resize-none rounded-[3px] border border-hairline bg-leaf px-2 py-1 leading-[18px] outline-none focus:border-primary"
        value={words}
        onChange={({ target }) => write(target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
            event.preventDefault()
            void send()
          }
          // What is typed here is taken back here, and stays when it is left.
          if ((event.ctrlKey || event.metaKey) && /^[zy]$/i.test(event.key)) event.stopPropagation()
          if (event.key === 'Escape') {
            event.stopPropagation()
            onEnd()
          }
        }}
      />
      <Callable words={words} onChoose={write} />
      {called.length > 0 && (
        <p className="truncate text-[12px] text-quiet">A letter goes to {called.map(({ name }) => name).join(', ')}.</p>
      )}
      <Who />
      {fault && (
        <p role="alert" className="text-error">
          ■ {fault}
        </p>
      )}
      <p className="mt-1 flex flex-wrap items-baseline gap-x-3 text-[12px]">
        <button
          type="submit"
          className="btn btn-primary btn-sm h-[24px] min-h-0 px-2.5"
          disabled={isSending || !isReady || words.trim() === ''}
        >
          {isSending ? 'Sending …' : verb}
        </button>
        {children}
        <button type="button" className="verb ml-auto" onClick={end}>
          Cancel
        </button>
      </p>
    </form>
  )
}

const MOST_CALLABLE = 4

/** Whom the name being typed behind an @ could mean. */
function Callable({ words, onChoose }: { words: string; onChoose: (words: string) => void }) {
  const { model } = useParts('model')
  const begun = /(?:^|[^\p{L}\p{N}@.])@([\p{L}\p{N}][^@\n]{0,40})?$/u.exec(words)
  const isCalling = begun !== null
  const people = useMemo(() => (isCalling ? [...reachable(model).values()] : []), [isCalling, model])
  if (!begun) return null
  const typed = (begun[1] ?? '').toLowerCase()
  const found = people.filter(({ name }) => name.toLowerCase().startsWith(typed) && name.toLowerCase() !== typed)
  if (found.length === 0) return null
  return (
    <p className="flex flex-wrap gap-x-3 text-[12px]">
      {found.slice(0, MOST_CALLABLE).map(({ id, name }) => (
        <button
          key={id}
          type="button"
          className="verb"
          onClick={() => onChoose(`${words.slice(0, words.length - typed.length)}${name} `)}
        >
          {name}
        </button>
      ))}
    </p>
  )
}

/** Whose words they are, and where answers go: kept in this browser. */
function Who() {
  const [isOpen, setOpen] = useState(false)
  const [name, setName] = useState(authorName)
  const [mail, setMail] = useState(authorMail)
  if (!isOpen)
    return (
      <p className="truncate text-[12px] text-quiet">
        as{' '}
        <button type="button" className="verb" aria-label={`As ${name}: change`} onClick={() => setOpen(true)}>
          {name}
        </button>
        {mail !== '' && `, answers to ${mail}`}
      </p>
    )
  const field = 'h-[24px] min-w-0 border-b border-hairline bg-transparent outline-none focus:border-primary'
  return (
    <p className="grid grid-cols-[72px_1fr] items-baseline text-[12px]">
      <label htmlFor="say-name" className="text-quiet">
        Your name
      </label>
      <input
        id="say-name"
        autoFocus
        className={field}
        value={name}
        maxLength={100}
        onChange={({ target }) => {
          setName(target.value)
          callAuthor(target.value, mail)
        }}
      />
      <label htmlFor="say-mail" className="text-quiet">
        Answers to
      </label>
      <input
        id="say-mail"
        type="email"
        placeholder="an address, if you like"
        className={field}
        value={mail}
        maxLength={254}
        onChange={({ target }) => {
          setMail(target.value)
          callAuthor(name, target.value)
        }}
      />
    </p>
  )
}
