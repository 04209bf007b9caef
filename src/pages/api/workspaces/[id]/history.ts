import { beforeQuery, checked, endpoint, historyBefore, json, loadWorkspace, theStore } from '../../../../server'

const PAGE = 100

/** The newest changes, or those before a revision: who, when and in which words. */
export const GET = endpoint(async ({ params, url }) => {
  const { before } = checked(Object.fromEntries(url.searchParams), beforeQuery)
  const { id, revision } = await loadWorkspace(theStore(), params['id'] ?? '')
  const entries = await historyBefore(theStore(), id, Number(before ?? revision + 1), PAGE)
  return json({ revision, entries, more: entries.length === PAGE })
})
