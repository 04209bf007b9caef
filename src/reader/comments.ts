/** What those who may only read say about a picture: a name and words, about a part of it or all of it. It has no facts, and asks for nothing but what was said here. */

interface Comment {
  readonly id: string
  readonly author: string
  readonly byReader: boolean
  readonly words: string
  readonly at: string
}
interface Thread {
  readonly id: string
  readonly view: string
  readonly part?: string
  readonly place?: Point
  readonly comments: readonly Comment[]
  readonly resolved?: { readonly at: string; readonly by: string }
}
/** In px of the picture. */
interface Point {
  readonly x: number
  readonly y: number
}
interface Answer {
  readonly threads?: readonly Thread[]
  readonly error?: { readonly message?: string }
}

const NAME = 'skivel:author'
const AGAIN_MS = 20_000

/** What is picked on a picture: shown, and told of. */
export interface Picked {
  /** Brings a part, or a place of the scene, into view. */
  readonly show: (what: SVGGElement | Point) => void
  /** Where somebody clicked, in px of the scene. */
  readonly placeAt: (event: MouseEvent) => Point
  /** Marks a place of the scene, or none. */
  readonly mark: (place: Point | undefined) => void
}

/** Begins where something may be said. */
export function beginComments(stage: HTMLElement, picked: Picked): void {
  const region = document.getElementById('comments')
  const form = region?.querySelector<HTMLFormElement>('form')
  const list = region?.querySelector<HTMLElement>('[data-threads]')
  if (!region || !form || !list) return
  const view = region.dataset['view'] ?? ''
  const path = `${window.location.pathname.replace(/\/$/, '')}/comments`
  const [x = 0, y = 0] = (region.dataset['origin'] ?? '').split(' ').map(Number)
  const origin = { x, y }
  const said = new Said(form, stage, picked, origin)
  const show = (what: SVGGElement | Point) => {
    if (what instanceof Element) return picked.show(what)
    const place = { x: what.x + origin.x, y: what.y + origin.y }
    picked.mark(place)
    picked.show(place)
  }
  let known = ''
  const tell = (threads: readonly Thread[]) => {
    const here = threads.filter((one) => one.view === view)
    // What is the same stays as it is: somebody may be reading or marking it.
    const now = JSON.stringify(here)
    if (now === known) return
    known = now
    list.replaceChildren(...here.map((one) => threadItem(one, stage, show, () => said.answer(one))))
  }
  const ask = async (init?: RequestInit): Promise<string | undefined> => {
    try {
      const response = await fetch(path, init)
      const { threads, error } = (await response.json()) as Answer
      if (threads) tell(threads)
      return response.ok ? undefined : (error?.message ?? `The server answered ${response.status}.`)
    } catch {
      return 'The server does not answer. What you typed is still here: try again.'
    }
  }
  form.addEventListener('submit', (event) => {
    event.preventDefault()
    void said.send(view, (body) =>
      ask({ method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    )
  })
  void ask()
  setInterval(() => document.visibilityState === 'visible' && void ask(), AGAIN_MS)
}

/** What is about to be said. */
class Said {
  readonly #words: HTMLTextAreaElement | null
  readonly #name: HTMLInputElement | null
  readonly #mail: HTMLInputElement | null
  readonly #about: HTMLElement | null
  readonly #fault: HTMLElement | null
  readonly #button: HTMLButtonElement | null
  #id = newId()
  #thread: string | undefined
  #part: SVGGElement | undefined
  /** In px of the scene. */
  #place: Point | undefined

  constructor(
    form: HTMLFormElement,
    stage: HTMLElement,
    private readonly picked: Picked,
    private readonly origin: Point,
  ) {
    this.#words = form.querySelector('textarea')
    this.#name = form.querySelector('[name=name]')
    this.#mail = form.querySelector('[name=mail]')
    this.#about = form.querySelector('[data-about]')
    this.#fault = form.querySelector('[role=alert]')
    this.#button = form.querySelector('[type=submit]')
    if (this.#name) this.#name.value = remembered()
    const partOf = ({ target }: Event) =>
      target instanceof Element ? target.closest<SVGGElement>('[data-part]') : null
    stage.addEventListener('click', (event) => {
      const part = partOf(event)
      const isOnPicture = event.target instanceof Element && event.target.closest('svg') !== null
      this.#speakOf(part ?? (isOnPicture ? picked.placeAt(event) : undefined))
    })
    stage.addEventListener('found', (event) => this.#speakOf(partOf(event) ?? undefined))
    this.#about?.addEventListener('click', () => this.#speakOf(undefined))
  }

  answer({ id, comments }: Thread): void {
    this.#turn(undefined, id, `Answer to ${comments[0]?.author ?? ''}`)
    this.#words?.focus()
  }

  async send(view: string, post: (body: object) => Promise<string | undefined>): Promise<void> {
    const [words, author, mail] = [
      this.#words?.value ?? '',
      this.#name?.value.trim() ?? '',
      this.#mail?.value.trim() ?? '',
    ]
    if (words.trim() === '' || author === '') return this.#tell('A name and some words are needed.')
    if (this.#button?.disabled) return
    this.#tell('')
    if (this.#button) this.#button.disabled = true
    remember(author)
    const part = this.#part?.dataset['part']
    const at = this.#place && {
      x: Math.round(this.#place.x - this.origin.x),
      y: Math.round(this.#place.y - this.origin.y),
    }
    const of =
      this.#thread === undefined
        ? { view, ...(part === undefined ? {} : { part }), ...(at && { at }) }
        : { thread: this.#thread }
    const fault = await post({ id: this.#id, ...of, author, words, ...(mail === '' ? {} : { mail }) })
    if (this.#button) this.#button.disabled = false
    if (fault !== undefined) return this.#tell(fault)
    this.#id = newId()
    if (this.#words) this.#words.value = ''
    this.#speakOf(undefined)
  }

  #speakOf(what: SVGGElement | Point | undefined): void {
    if (what === undefined || what instanceof Element)
      this.#turn(what, undefined, what ? `About ${what.dataset['name'] ?? ''}` : '')
    else this.#turn(undefined, undefined, 'About this place', what)
  }

  #turn(part: SVGGElement | undefined, thread: string | undefined, words: string, place?: Point): void {
    this.picked.mark(place)
    this.#place = place
    this.#part?.removeAttribute('data-spoken')
    part?.setAttribute('data-spoken', '')
    this.#part = part
    this.#thread = thread
    if (this.#about) {
      this.#about.textContent = words === '' ? '' : `${words} ×`
      this.#about.hidden = words === ''
    }
  }

  #tell(fault: string): void {
    if (!this.#fault) return
    this.#fault.textContent = fault === '' ? '' : `■ ${fault}`
    this.#fault.hidden = fault === ''
  }
}

/** A thread as a list item. Whatever was said is text, and nothing else. */
function threadItem(
  { part: mark, place, comments, resolved }: Thread,
  stage: HTMLElement,
  show: (what: SVGGElement | Point) => void,
  answer: () => void,
): HTMLElement {
  const item = made('li', 'border-l-[3px] pl-2 ' + (resolved ? 'border-hairline' : 'border-quiet'))
  if (mark !== undefined) {
    const part = stage.querySelector<SVGGElement>(`[data-part="${CSS.escape(mark)}"]`)
    if (part) item.append(button(part.dataset['name'] ?? '', () => show(part)))
    else item.append(made('p', 'text-[12px] text-quiet', 'About what is not shown any more'))
  }
  if (place) item.append(button('A place', () => show(place)))
  for (const { author, byReader, words, at } of comments) {
    const head = made('p', 'mt-1 text-[12px] text-quiet')
    head.append(made('strong', 'text-base-content', author), ` ${byReader ? '' : '· keeps the facts · '}${moment(at)}`)
    item.append(head, made('p', 'break-words whitespace-pre-wrap', words))
  }
  if (resolved) item.append(made('p', 'text-[12px] text-quiet', `✓ Resolved by ${resolved.by}, ${moment(resolved.at)}`))
  item.append(button('Answer', answer))
  return item
}

function made(tag: string, classes: string, text = ''): HTMLElement {
  const element = document.createElement(tag)
  element.className = classes
  element.textContent = text
  return element
}

function button(words: string, run: () => void): HTMLElement {
  const element = made('button', 'verb block max-w-full truncate text-left text-[12px]', words)
  element.setAttribute('type', 'button')
  element.addEventListener('click', run)
  return element
}

const moment = (at: string): string =>
  new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })

/** An identity for what is said, by which the server knows what is sent twice. */
const newId = (): string =>
  [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, '0')).join('')

/** In a frame of another site a browser may keep nothing. */
function remembered(): string {
  try {
    return localStorage.getItem(NAME) ?? ''
  } catch {
    return ''
  }
}
function remember(name: string): void {
  try {
    localStorage.setItem(NAME, name)
  } catch {
    // Then it is typed again the next time.
  }
}
