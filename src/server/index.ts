export { checked, readBody, readBytes, readForm } from './http/body'
export { answerTo, endpoint, json } from './http/endpoint'
export { askedBy } from './threads/asking'
export * from './http/schemas'
export { assetAddresses, assetOf, keepPhoto } from './services/assets'
export { begin } from './services/begin'
export { commitChange } from './services/changes'
export { databaseTables } from './services/databases'
export { directoryUsers } from './services/directory'
export { commentsAt, commentsOf, hideSaid, proposalOf, say, sayAt, settleThread } from './services/comments'
export { BadRequest, NotFound, Overload, TooLong } from './services/errors'
export { listen } from './services/feed'
export { mailboxAt, sayWanted } from './services/mailing'
export { networkNeighbours } from './services/neighbours'
export { changesSince, historyBefore, modelAt, refuseAstray } from './services/history'
export { PHOTO_MOST } from './services/photos'
export { EXAMPLE, firstPicture, firstSamples, samples } from './services/pages'
export { bookOf, pictureOf } from './services/pictures'
export { fileHeaders, FORMATS } from './draw/formats'
export { letComment, makeReader, readAt, readersOf, sentPage, withdrawReader } from './services/readers'
export { makeShare, readShare, sharesOf, withdrawShare } from './services/shares'
export { standinDatabase } from './services/standinDatabase'
export { theStore } from './services/opened'
export {
  binned,
  copyWorkspace,
  createWorkspace,
  destroyWorkspace,
  loadWorkspace,
  removeWorkspace,
  restoreWorkspace,
  workspaceList,
} from './services/workspaces'
