import { dayInWords, daysBetween, freeId } from '../../../model'
import { COMMON, fix, thresholdOf, type Rule } from '../../../notation'
import { layersFrom } from '../numbers'
import { branchOf, solidLine, structureOn, vacantSince } from '../structure'
import { countOf } from '../words'
import { quoted } from './phrases'

/** Rules about the shape of the whole: heads, spans, layers, vacancies. */

/** O(positions). */
const noHead: Rule = {
  id: 'org/no-head',
  severity: 'warning',
  title: 'Head missing, or one too many',
  why: 'Every part of an organisation has a head at its top; a position without a manager that is no head has lost its line.',
  source: COMMON,
  threshold: { initial: 1, label: 'Heads' },
  check: (model, day) => {
    const structure = structureOn(model, day)
    const headless = structure.heads.filter((id) => structure.posts.get(id)?.cut)
    const heads = structure.heads.filter((id) => !structure.posts.get(id)?.cut)
    const declared = thresholdOf(model, noHead)
    const found = headless.map((id) => ({
      title: 'No head',
      message: `The part of the organisation around ${quoted(model, id, day)} has no head.`,
      subjects: [id],
      fixes: [],
    }))
    if (heads.length <= declared) return found
    const bySize = heads.map((id) => ({ id, size: branchOf(structure, id).length })).sort((a, b) => b.size - a.size)
    const chief = bySize[0]
    const surplus = bySize.slice(declared)
    const declare = fix(`Declare ${heads.length} heads`, {
      do: 'set-workspace',
      path: `thresholds.${noHead.id}`,
      value: heads.length,
    })
    return [
      ...found,
      ...surplus.map(({ id }) => {
        const newLine = freeId(model.relations, `${id}-line`)
        const canReport = chief && declared > 0 && !solidLine(model, id, day)
        const report = canReport
          ? [
              fix(`Report to ${quoted(model, chief.id, day)}`, {
                do: 'add-relation',
                relation: { id: newLine, kind: 'reports-to', source: id, target: chief.id, fields: {} },
              }),
            ]
          : []
        return {
          title: 'One head too many',
          message: `${quoted(model, id, day)} has no manager, and ${countOf(declared, 'head')} ${declared === 1 ? 'is' : 'are'} declared.`,
          subjects: [id],
          fixes: [...report, declare],
        }
      }),
    ]
  },
}

/** O(positions). */
const wideSpan: Rule = {
  id: 'org/wide-span',
  severity: 'warning',
  title: 'Many direct reports',
  why: 'With many direct reports little time is left for each.',
  source: COMMON,
  threshold: { initial: 8, label: 'Most direct reports' },
  check: (model, day) => {
    const most = thresholdOf(model, wideSpan)
    return [...structureOn(model, day).posts.values()].flatMap(({ position, reports }) =>
      reports.length <= most
        ? []
        : {
            message: `${quoted(model, position.id, day)} has ${reports.length} direct reports, more than the ${most} set for this workspace.`,
            subjects: [position.id],
            fixes: [],
          },
    )
  },
}

/** O(positions). */
const vacantManager: Rule = {
  id: 'org/vacant-manager',
  severity: 'warning',
  title: 'Manager’s position vacant',
  why: 'Its reports have had nobody to turn to for longer than this workspace allows.',
  source: COMMON,
  threshold: { initial: 30, label: 'Longest vacancy of a manager, in days' },
  check: (model, day) => {
    const longest = thresholdOf(model, vacantManager)
    return [...structureOn(model, day).posts.values()].flatMap((post) => {
      if (post.holders.length > 0 || post.reports.length === 0) return []
      const since = vacantSince(model, post.position, day)
      const days = since === undefined ? Infinity : daysBetween(since, day)
      if (days <= longest) return []
      const how = since === undefined ? 'has no holder' : `has been vacant since ${dayInWords(since)}, ${days} days`
      return {
        message: `${quoted(model, post.position.id, day)} ${how}, with ${countOf(post.reports.length, 'report')}.`,
        subjects: [post.position.id],
        fixes: [],
      }
    })
  },
}

/** O(positions). */
const narrowSpan: Rule = {
  id: 'org/narrow-span',
  severity: 'note',
  title: 'One direct report',
  why: 'A manager with a single report adds a layer that may not be needed.',
  source: COMMON,
  check: (model, day) =>
    [...structureOn(model, day).posts.values()].flatMap(({ position, reports }) =>
      reports.length !== 1
        ? []
        : {
            message: `${quoted(model, position.id, day)} has one direct report.`,
            subjects: [position.id],
            fixes: [],
          },
    ),
}

/** O(positions). */
const deep: Rule = {
  id: 'org/deep',
  severity: 'note',
  title: 'Many layers',
  why: 'With many layers decisions travel far.',
  source: COMMON,
  threshold: { initial: 7, label: 'Most layers' },
  check: (model, day) => {
    const structure = structureOn(model, day)
    const most = thresholdOf(model, deep)
    return structure.heads.flatMap((id) => {
      const layers = layersFrom(structure, id)
      if (layers <= most) return []
      const message = `There are ${layers} layers below and with ${quoted(model, id, day)}, more than the ${most} set for this workspace.`
      return { message, subjects: [id], fixes: [] }
    })
  },
}

export const shapeRules: readonly Rule[] = [noHead, wideSpan, vacantManager, narrowSpan, deep]
