/** State that outlives a view: stores that several follow, settings of this browser, drafts that survive a reload. */
export { createSettings } from './settings'
export { createStore, createTeller, useStore } from './store'
export { useStored } from './stored'
