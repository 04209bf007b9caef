import { wordsOf } from '../core/model'
import { factsIn } from './factsIn'
import { broughtBackBy } from './store/asking'
import { notify, useWorkspace } from './store/state'

/** Takes a picture with the facts that it carries: shown as what it is of here, or brought in as new. Answers whether it carries any. */
export async function takePicture(file: File, bringIn: (text: string) => Promise<void>): Promise<boolean> {
  try {
    const text = await factsIn(file)
    if (text === undefined) return false
    const back = await broughtBackBy(text)
    if (back && 'refused' in back) notify(back.refused, 'refusal')
    else if (back) useWorkspace.setState({ dialog: 'brought-back', returned: { ...back, text, name: file.name } })
    else await bringIn(text)
  } catch (error) {
    notify(wordsOf(error), 'refusal')
  }
  return true
}
