export const SHORTCUTS = [
  { keys: '?', does: 'This sheet' },
  { keys: '/', does: 'Find a unit' },
  { keys: '↑ ↓  j k', does: 'Next lane, lane before' },
  { keys: '← →', does: 'Another axle of the lane' },
  { keys: 'Enter', does: 'Open the vehicle' },
  { keys: 'M', does: 'Measure the vehicle' },
  { keys: 'T', does: 'Its bench sheet: torques' },
  { keys: '[  ]', does: 'See less far, farther' },
  { keys: 'Esc', does: 'Back' },
  { keys: 'Ctrl Enter', does: 'Save a sheet' },
  { keys: 'Ctrl Z', does: 'Undo while measuring' },
  { keys: '1 2 3 4', does: 'Settle a question' },
];
