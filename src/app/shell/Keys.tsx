import { currentNotation } from '../actions'
import { useWorkspace } from '../store/state'
import { Dialog } from './Dialog'

const GENERAL: readonly (readonly [string, string])[] = [
  ['Ctrl K', 'go to or do'],
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z', 'redo'],
  ['← ↑ → ↓', 'walk along the picture'],
  ['Enter', 'type into what is selected'],
  ['<, >', 'a bar or a date earlier, later'],
  ['{, }', 'its end earlier, later'],
  ['*', 'emphasis of what is selected'],
  ['Ctrl C, Ctrl V', 'copy what is selected, paste it on another sheet'],
  ['Ctrl P', 'print: a document of the view'],
  ['Ctrl Enter', 'follow the link of what is selected'],
  ['0', 'fit the picture'],
  ['Space + drag', 'move the sheet'],
  ['d', 'date line; ← → to the next tick, with Alt the other day'],
  ['f', 'findings'],
  ['"', 'say something about what is selected'],
  ['r', 'registers'],
  ['z', 'the whole page for the picture, and back'],
  ['C, R, F, D', 'fold contents, registers, margin, date line'],
  ['?', 'these keys'],
]

const IN_OUTLINE: readonly (readonly [string, string])[] = [
  ['Enter', 'a line below'],
  ['Tab, Shift Tab', 'a level down, up'],
  ['Alt ↑, Alt ↓', 'among its peers'],
  ['Backspace', 'an empty line goes'],
  ['Escape', 'on to what comes after the outline'],
]

export function Keys() {
  const own = (currentNotation()?.actions ?? []).flatMap(({ key, label }) =>
    key ? [[key.replace('+Arrow', ' '), label] as const] : [],
  )
  return (
    <Dialog title="Keys" width={640} onClose={() => useWorkspace.setState({ dialog: undefined })}>
      <div className="grid grid-cols-2 gap-8 narrow:grid-cols-1">
        <KeyList title="Everywhere" keys={GENERAL} />
        <div className="space-y-4">
          <KeyList title="With something selected" keys={own} />
          <KeyList title="In the outline" keys={IN_OUTLINE} />
        </div>
      </div>
    </Dialog>
  )
}

function KeyList({ title, keys }: { title: string; keys: readonly (readonly [string, string])[] }) {
  return (
    <section>
      <h3 className="caps mb-1">{title}</h3>
      <dl className="grid grid-cols-[112px_1fr] gap-y-0.5">
        {keys.map(([key, what]) => (
          <div key={key + what} className="contents">
            <dt className="numeric text-[12px]">{key}</dt>
            <dd className="text-quiet">{what}</dd>
          </div>
        ))}
      </dl>
    </section>
  )
}
