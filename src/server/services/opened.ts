import { sendLetters } from './letters'
import { keepSummaries } from './summaries'
import { theStore as openStore, type Store } from './store'

let isOpen = false

/** Where this process keeps its workspaces. What an earlier one left to be sent is sent once it is opened. @throws Error when the address of the database is not set */
export function theStore(): Store {
  const store = openStore()
  if (!isOpen) {
    sendLetters(store)
    keepSummaries(store)
  }
  isOpen = true
  return store
}
