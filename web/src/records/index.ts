/** Records of instruments on a slip, and their plots. */
export { isRecord, RecordShelf, useRecords } from './RecordShelf'
