import { isOpen } from '../../core/findings/findings'
import { useParts } from '../store/state'

/** Every selection in words, whether this picture draws it or not, with how many findings speak of it. */
export function SelectedInWords({ label }: { label: string | undefined }) {
  const { model, selection, findings } = useParts('model', 'selection', 'findings')
  const [first, ...more] = selection
  if (first === undefined) return null
  if (more.length > 0) return <>{selection.length} selected</>
  const known = label ?? model.entities.get(first)?.name ?? 'A tie between two facts'
  const count = findings.filter((finding) => isOpen(finding) && finding.subjects.includes(first)).length
  return (
    <>
      {known}
      {count > 0 && `, ${count === 1 ? 'a finding' : `${count} findings`}`}
    </>
  )
}
