// What is done at the link of a board, step by step, and the document of a take: no part of what a phone fetches.
export * from './board/ask'
export * from './board/escsAct'
export * from './board/settingsAct'
export * from './documentOf'
