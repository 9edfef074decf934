export { isRecord, RecordShelf, useRecords } from './RecordShelf'
