import Joi from 'joi'
import { isDay, isId, isWritable } from '../../core/model'
import { mailAddress } from '../../core/notation'
import type { SentChange } from '../services/changes'
import type { Said, SaidByReader } from '../services/comments'
import { limited, limitsOf, type LIMITS } from '../../core/scene'

const text = (most: number) =>
  Joi.string()
    .max(most)
    .custom((value: string, helpers) =>
      isWritable(value)
        ? value
        : helpers.message({ custom: '{{#label}} must not hold control characters or half characters' }),
    )
const key = Joi.string().pattern(/^[\w.:~-]{1,64}$/)
/** The mark of a state of a workspace; that of one from before there were marks is empty. */
const lineage = Joi.string()
  .allow('')
  .pattern(/^[\w-]{0,22}$/)
const day = Joi.string().custom((value: string, helpers) =>
  isDay(value) ? value : helpers.message({ custom: '{{#label}} must be a day such as 2026-11-24' }),
)

/** Facts within are checked against their kinds later, by the core. */
export const changeBody = Joi.object<SentChange>({
  id: key.required(),
  base: Joi.number().integer().min(0).required(),
  lineage,
  label: text(1000).min(1).required(),
  author: text(100).min(1).required(),
  // What they hold is the core's to read; here it is only counted.
  steps: Joi.any()
    .custom((value: unknown, helpers) =>
      Array.isArray(value) && value.length > 0 && value.length <= 300_000
        ? value
        : helpers.message({ custom: '{{#label}} must be a list of 1 to 300000 steps' }),
    )
    .required(),
  takes: key,
})

interface NewWorkspace {
  readonly file?: object
  readonly starter?: string
  readonly list?: string
  readonly as?: string
  readonly name?: string
  readonly day?: string
}

/** One way of beginning: from a file, from a starter, from a typed list, or empty. */
export const newWorkspaceBody = Joi.object<NewWorkspace>({
  file: Joi.any().custom((value: unknown, helpers) =>
    typeof value === 'object' && value !== null && !Array.isArray(value)
      ? value
      : helpers.message({ custom: '{{#label}} must be an object' }),
  ),
  starter: Joi.string().max(128),
  list: Joi.string().allow('').max(2_000_000),
  as: Joi.string().max(64),
  name: text(200).pattern(/\S/, 'a name'),
  day,
})
  .oxor('file', 'starter', 'list')
  .with('as', 'list')

interface PictureQuery {
  readonly day?: string
  readonly compare?: string
  readonly width?: string
  readonly megapixels?: string
  readonly paper?: string
  readonly across?: string
  readonly dpi?: string
  readonly border?: string
  readonly quality?: string
  readonly transparent?: string
  readonly letters?: 'named' | 'inside' | 'outlines'
  readonly scale?: string
  readonly overlap?: string
  readonly facts?: string
  readonly wide?: string
  readonly tables?: string
  /** Further views of a PDF. */
  readonly with?: string
}

/** A number as an address says it. */
const number = (name: keyof typeof LIMITS) =>
  Joi.string().custom((value: string, helpers) =>
    limited(name, value) === undefined ? helpers.message({ custom: `{{#label}} must be ${limitsOf(name)}` }) : value,
  )
const yesNo = Joi.string().valid('yes', 'no')

export const pictureQuery = Joi.object<PictureQuery>({
  day,
  compare: day,
  width: number('width'),
  megapixels: number('megapixels'),
  paper: text(40),
  across: yesNo,
  dpi: number('dpi'),
  border: number('border'),
  quality: number('quality'),
  transparent: yesNo,
  letters: Joi.string().valid('named', 'inside', 'outlines'),
  scale: number('scale'),
  overlap: number('overlap'),
  facts: yesNo,
  wide: number('wide'),
  tables: yesNo,
  with: text(8000),
})

interface BookQuery {
  readonly day?: string
  readonly since?: string
}
export const bookQuery = Joi.object<BookQuery>({ day, since: day })

interface SinceQuery {
  readonly since?: string
  /** The mark of that state. */
  readonly on?: string
}
export const sinceQuery = Joi.object<SinceQuery>({ since: Joi.string().pattern(/^\d{1,15}$/), on: lineage })

interface BeforeQuery {
  readonly before?: string
}
export const beforeQuery = Joi.object<BeforeQuery>({ before: Joi.string().pattern(/^\d{1,15}$/) })

interface ListQuery {
  readonly named?: string
}
export const listQuery = Joi.object<ListQuery>({ named: text(200).allow('') })

interface DayQuery {
  readonly day?: string
}
export const dayQuery = Joi.object<DayQuery>({ day })

interface NewShare {
  readonly view: string
  readonly format: string
}
export const newShareBody = Joi.object<NewShare>({ view: key.required(), format: key.required() })

interface ReaderBody {
  readonly reach: 'view' | 'chapter' | 'workspace'
  readonly of: string
  readonly day?: string
  readonly until?: string
  readonly findings: boolean
  readonly comments?: boolean
}
export const readerBody = Joi.object<ReaderBody>({
  reach: Joi.string().valid('view', 'chapter', 'workspace').required(),
  of: key.required(),
  day,
  until: day,
  findings: Joi.boolean().required(),
  comments: Joi.boolean(),
})

interface ReaderComments {
  readonly comments: boolean
}
export const readerCommentsBody = Joi.object<ReaderComments>({ comments: Joi.boolean().required() })

/** Of a view or a fact, as the core writes them. */
const identity = Joi.string().custom((value: string, helpers) =>
  isId(value) ? value : helpers.message({ custom: '{{#label}} must be an identity' }),
)
/** What somebody says is longer than nothing, and no longer than a page. */
const words = text(2000).pattern(/\S/)
const mail = Joi.string().custom((value: string, helpers) =>
  mailAddress(value) === undefined
    ? helpers.message({ custom: '{{#label}} must be one address, such as name@example.org' })
    : value,
)
const px = Joi.number().integer().min(-999_999).max(999_999).required()

/** In px of the picture. */
const placeBody = Joi.object({ x: px, y: px })

export const commentBody = Joi.object<Said>({
  id: key.required(),
  thread: key,
  view: identity,
  fact: identity,
  at: placeBody,
  author: text(100).pattern(/\S/).required(),
  mail,
  words: words.required(),
  // What it holds is the core's to read.
  proposal: Joi.object({ label: text(1000).min(1).required(), steps: Joi.array().min(1).max(2000).required() }),
})
  .oxor('fact', 'at')
  .xor('thread', 'view')

export const readerCommentBody = Joi.object<SaidByReader>({
  id: key.required(),
  thread: key,
  view: identity,
  part: Joi.string().pattern(/^[\w-]{1,64}$/),
  at: placeBody,
  author: text(60).pattern(/\S/).required(),
  mail,
  words: words.required(),
})
  .oxor('part', 'at')
  .xor('thread', 'view')

interface CommentTurn {
  readonly author: string
  readonly resolved?: boolean
  readonly hidden?: boolean
}
export const commentTurnBody = Joi.object<CommentTurn>({
  author: text(100).pattern(/\S/).required(),
  resolved: Joi.boolean(),
  hidden: Joi.boolean(),
}).xor('resolved', 'hidden')

interface ViewQuery {
  readonly view: string
}
export const viewQuery = Joi.object<ViewQuery>({ view: key.required() })

interface DatabaseBody {
  readonly host: string
  readonly port: number
  readonly user: string
  readonly password: string
  readonly database: string
}
/** Where a database is that is to be read. What it says is used for that, and kept nowhere. */
export const databaseBody = Joi.object<DatabaseBody>({
  host: text(253)
    .pattern(/^[\w.:-]+$/)
    .required(),
  port: Joi.number().integer().min(1).max(65_535).required(),
  user: text(128).min(1).required(),
  password: text(256).allow('').required(),
  database: text(64).min(1).required(),
})
