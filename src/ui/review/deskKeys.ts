/** Every key of the review desk, as the help lists them. */
export const deskKeys: readonly { readonly about: string; readonly keys: readonly (readonly [string, string])[] }[] = [
  {
    about: 'Docket',
    keys: [
      ['J, ↓', 'next finding'],
      ['K, ↑', 'previous finding'],
      ['S', 'skip to the next that waits'],
      ['P', 'back to where I was'],
      ['/', 'search'],
      ['D', 'the day: how far, since when, a place to stop'],
    ],
  },
  {
    about: 'Ruling',
    keys: [
      ['A', 'accept'],
      ['X', 'reject'],
      ['E', 'switch to the other reading'],
      ['M', 'rename'],
      ['Q', 'ask somebody'],
      ['T', 'note something'],
      ['B', 'one ruling for all alike; 1, 2 … give it'],
      ['U', 'undo the last entry'],
      ['C', 'ask for a change of it in the database'],
      ['N', 'naming rules'],
    ],
  },
  {
    about: 'Map and sheet',
    keys: [
      ['←', 'to what it refers to'],
      ['→', 'to what refers to it'],
      ['Shift ↑, Shift ↓', 'among plates of a column, or lines of a plate'],
      ['G', 'go there on the map'],
      ['F', 'focus on it; [ and ] less and more deep'],
      ['W', 'the way between two: here, and there'],
      ['R', 'areas: rename, join, split, move a table'],
      ['L', 'the order in which rows go in and out'],
      ['O', 'the sheet in the place of the map'],
    ],
  },
  {
    about: 'Desk',
    keys: [
      [',', 'fold the docket'],
      ['.', 'fold the evidence'],
      ['Ctrl K', 'find anything'],
      ['H', 'these keys'],
      ['Esc', 'close, or the whole map again'],
    ],
  },
]
