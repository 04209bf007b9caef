import { fixAs, removeRelation, type Found, type Rule } from '../../../notation'
import { named } from '../edits'
import { dayWords, textOf, type Work } from '../plan'
import { clearing, finding, inEach, leaves } from './found'

export const cycle: Rule = {
  id: 'sch/cycle',
  severity: 'error',
  title: 'Tasks come after each other in a circle',
  why: 'Nothing in the circle can ever start. Until a link is taken away, the links within it are left out of the dates.',
  source: 'Kelley & Walker 1959: a network has no circle',
  check: (model, day) =>
    inEach(model, day, (plan) =>
      plan.circles.map((circle): Found => {
        const within = new Set(circle)
        const links = plan.links.filter(({ source, target }) => within.has(source) && within.has(target))
        const names = circle.flatMap((id) => plan.byId.get(id)?.entity.name ?? [])
        return {
          message: `${names
            .slice(0, 6)
            .map((name) => `“${name}”`)
            .join(', ')} come after each other in a circle.`,
          subjects: circle,
          fixes: links
            .slice(0, 3)
            .map((link) =>
              fixAs(
                `Not after “${plan.byId.get(link.source)?.entity.name ?? ''}”`,
                'Take a link out of a circle',
                removeRelation(link.id),
              ),
            ),
        }
      }),
    ),
}

export const violatesLink: Rule = {
  id: 'sch/violates-link',
  severity: 'error',
  title: 'Stated dates break a link',
  why: 'The dates are stated, and what it comes after does not let it happen then.',
  source: 'Wiest 1981: precedence relations are inequalities that all dates meet',
  check: (model, day) =>
    inEach(model, day, (plan) =>
      plan.broken.flatMap((link) => {
        const [before, after] = [plan.byId.get(link.source), plan.byId.get(link.target)]
        if (!before || !after) return []
        const free = ['fixed', 'start', 'finish', 'constraint', 'on'].filter(
          (field) => after.entity.fields[field] !== undefined,
        )
        return [
          finding(
            after,
            `${named(after)} is set to ${dayWords(after, 'start')}, but ${named(before)}, which comes before it, ends on ${dayWords(before, 'finish')}.`,
            [
              clearing(after, 'Let it be computed', ...free),
              fixAs('Take the link away', 'Take a link away', removeRelation(link.id)),
            ],
            [before.id],
          ),
        ]
      }),
    ),
}

export const summaryLinked: Rule = {
  id: 'sch/summary-linked',
  severity: 'note',
  title: 'A group has a link',
  why: 'A link at a group holds for each of its tasks; what really has to wait is seldom all of them.',
  source: 'DCMA 14-point assessment, guidance on logic',
  check: (model, day) =>
    inEach(model, day, (plan) =>
      plan.list
        .filter(({ kind, into, out }) => kind === 'group' && into.length + out.length > 0)
        .map((work) =>
          finding(work, `The group ${named(work)} has ${work.into.length + work.out.length} links of its own.`),
        ),
    ),
}

export const orphan: Rule = {
  id: 'sch/orphan',
  severity: 'warning',
  title: 'Nothing before and nothing after',
  why: 'A task without links does not move when others do, and moves nothing.',
  source: 'DCMA 14-point assessment, check 1',
  check: (model, day) =>
    inEach(model, day, (plan) => {
      if (plan.links.length === 0) return []
      const tied = (work: Work | undefined): boolean =>
        work !== undefined && (work.into.length + work.out.length > 0 || tied(work.parent))
      return leaves(plan)
        .filter((work) => !tied(work) && textOf(work.entity, 'actualFinish') === undefined)
        .map((work) => finding(work, `${named(work)} comes after nothing and before nothing.`))
    }),
}
