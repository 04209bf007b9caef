import { COMMON, fix, joinFix, reading, removal, removeRelation, type Found, type Rule } from '../../../notation'
import { mapOn } from './structure'

const NOVAK = 'Novak & Gowin, Learning How to Learn, 1984'
const VIEW = (figure: string) => ({ scope: { figure } })

const unlabelled: Rule = {
  id: 'map/unlabelled-link',
  severity: 'warning',
  title: 'A link without a phrase',
  why: 'Two concepts and a line say that there is something between them, and not what: only the phrase makes a proposition of it.',
  source: NOVAK,
  check: (model, day) =>
    model.ofKind('figure').flatMap(({ id }) =>
      mapOn(model, VIEW(id), day).links.flatMap(({ relation, phrase, from, to }): Found[] =>
        phrase !== ''
          ? []
          : [
              {
                message: `What “${from.entity.name}” has to do with “${to.entity.name}” is not said.`,
                subjects: [relation.id, from.id, to.id],
                fixes: [fix('Take the link away', removeRelation(relation.id))],
              },
            ],
      ),
    ),
}

const loose: Rule = {
  id: 'map/loose-concept',
  severity: 'warning',
  title: 'A concept that nothing is linked to',
  why: 'A map says what is known by its links: a concept without any says nothing.',
  source: NOVAK,
  check: (model, day) =>
    model.ofKind('figure').flatMap(({ id }) => {
      const { concepts } = mapOn(model, VIEW(id), day)
      if (concepts.length < 2) return []
      return concepts
        .filter(({ says, said }) => says.length + said.length === 0)
        .map((one): Found => ({
          message: `“${one.entity.name}” is linked to no other concept.`,
          subjects: [one.id],
          fixes: [fix('Remove it', ...removal(model, one.id))],
        }))
    }),
}

const duplicate: Rule = {
  id: 'map/duplicate-concept',
  severity: 'warning',
  title: 'A concept that is there twice',
  why: 'What is known of one thing stands in two places, and each seems to be all of it.',
  source: COMMON,
  check: (model, day) =>
    model.ofKind('figure').flatMap(({ id }) => {
      const { concepts } = mapOn(model, VIEW(id), day)
      const first = new Map<string, (typeof concepts)[number]>()
      return concepts.flatMap((one): Found[] => {
        const name = one.entity.name.trim().toLowerCase()
        const known = first.get(name)
        if (!known) {
          first.set(name, one)
          return []
        }
        return [
          {
            message: `“${one.entity.name}” is there twice.`,
            subjects: [one.id, known.id],
            fixes: [joinFix(model, known.entity, one.entity)],
          },
        ]
      })
    }),
}

export const mapRules: readonly Rule[] = [
  // What joins two of them depends on whatever names them.
  duplicate,
  ...reading(
    { facts: { figure: true, concept: true, links: true }, words: ['concept'], names: ['*ties'] },
    unlabelled,
    loose,
  ),
]
