/** One cause worth trying: what to do, and the check that proves it where there is one. */
export interface Cause {
  readonly words: string
  readonly act: string
  readonly check?: string
}
export interface Symptom {
  readonly id: string
  readonly seen: string
  /** In the order worth trying: the likeliest and the cheapest to try first (common practice). */
  readonly causes: readonly Cause[]
}

export const symptoms: readonly Symptom[] = [
  {
    id: 'noBoard',
    seen: 'The board is not found',
    causes: [
      {
        words: 'The cable only charges, or is not fully in',
        act: 'Use a cable that is known to carry data; plug it fully in at both ends.',
      },
      { words: 'It is another part’s socket', act: 'Follow the cable to the board itself.' },
      { words: 'Another program holds the link', act: 'Close it; the bench is found by itself.' },
      { words: 'The board has no power', act: 'See whether its light burns; measure its rail.', check: 'intake.firstPower' },
      { words: 'It waits in its loader', act: 'Write an image; what was written before is kept.', check: 'board.firmware' },
      { words: 'It is another board than the card says', act: 'Ask who it is.', check: 'board.identity' },
    ],
  },
  {
    id: 'noPower',
    seen: 'Nothing lights up on the battery, or the limiter trips',
    causes: [
      { words: 'A short', act: 'Unplug the battery and measure from plus to minus.', check: 'intake.firstPower' },
      { words: 'A part draws too much', act: 'Unplug part by part until it falls.', check: 'intake.firstPower' },
      { words: 'The regulator sags as it warms', act: 'Watch the rail for two minutes.', check: 'intake.rails' },
      { words: 'A plug with its pins in other holes', act: 'Compare it with the wiring sheet.', check: 'intake.byEye' },
    ],
  },
  {
    id: 'silentPart',
    seen: 'A part on a socket is silent',
    causes: [
      { words: 'The transmitter is off', act: 'Switch it on and see the receiver’s light.', check: 'board.sockets' },
      {
        words: 'The receiver is bound to another transmitter or model, or to none',
        act: 'See how its light blinks; bind it by its steps.',
        check: 'radio.link',
      },
      { words: 'The socket is set for something else', act: 'Read what each socket is set for.', check: 'board.sockets' },
      {
        words: 'The plug is not fully in, or its wires are swapped',
        act: 'Push it fully in; compare its wires with the wiring sheet.',
        check: 'board.sockets',
      },
      { words: 'It sits in another socket', act: 'Follow its lead.', check: 'intake.byEye' },
      { words: 'Its firmware uses another protocol', act: 'Read its version.', check: 'board.versions' },
      { words: 'The part is dead', act: 'Replace it.' },
    ],
  },
  {
    id: 'silentSensor',
    seen: 'A sensor is missing, or a reading is far off',
    causes: [
      { words: 'It is switched off in the settings', act: 'Compare the settings with the sheet.', check: 'board.baseline' },
      { words: 'It answers at its other bus address', act: 'Taraf tries it.', check: 'board.sensors' },
      { words: 'The image was built without it', act: 'See what the image was built with.', check: 'board.firmware' },
      { words: 'It was never calibrated, or cleared with the board', act: 'Calibrate it.', check: 'sensors.gyroRest' },
      { words: 'The part is dead', act: 'Replace it.' },
    ],
  },
  {
    id: 'fewEscs',
    seen: 'Fewer ESCs answer than are fitted, or motors are silent with errors on all',
    causes: [
      { words: 'The battery is not in: an ESC has no power from the cable', act: 'Plug it in, props off.' },
      { words: 'A version of the firmware that is known to be bad with replies', act: 'See what runs.', check: 'board.firmware' },
      {
        words: 'A signal that the ESC does not understand',
        act: 'Compare the settings with the sheet.',
        check: 'board.baseline',
      },
      { words: 'A plug is not fully in', act: 'Reseat the plug of the one that is missing.', check: 'intake.byEye' },
    ],
  },
  {
    id: 'noArm',
    seen: 'It will not arm',
    causes: [
      { words: 'The board says why', act: 'Read its reasons on the watch line; count how often its light blinks.' },
      {
        words: 'The throttle does not reach its low gate',
        act: 'Move the sticks to their ends.',
        check: 'radio.ends',
      },
      { words: 'It leans too far, or its level is off', act: 'Take the level.', check: 'orientation.level' },
      { words: 'A sensor that it needs is silent', act: 'Ask the sensors.', check: 'board.sensors' },
      {
        words: 'It waits for a fix',
        act: 'Take it outside, or let the sheet allow arming without a fix.',
        check: 'sensors.position',
      },
    ],
  },
  {
    id: 'wrongStick',
    seen: 'Sticks or switches work the wrong function',
    causes: [
      { words: 'Another order of channels', act: 'Move each stick by itself.', check: 'radio.order' },
      { words: 'A switch lies near the edge of its band, or in another one', act: 'Move each switch.', check: 'switches.table' },
      {
        words: 'Another model is chosen on the transmitter',
        act: 'Choose the model that this receiver is bound to.',
        check: 'radio.link',
      },
      { words: 'A mix left in the model', act: 'Move each stick by itself.', check: 'radio.order' },
    ],
  },
  {
    id: 'drifts',
    seen: 'It drifts, leans or turns by itself',
    causes: [
      {
        words: 'The gyro was not still when it was calibrated',
        act: 'Run it with the airframe at rest.',
        check: 'sensors.gyroRest',
      },
      { words: 'The level is off', act: 'Run it, with the half turn.', check: 'orientation.level' },
      { words: 'The board is set to another mounting', act: 'Run it, then the follow check.', check: 'orientation.board' },
      { words: 'The compass is pulled by the motors', act: 'Run it near the motors.', check: 'sensors.compassShift' },
    ],
  },
  {
    id: 'hot',
    seen: 'A motor or the board grows hot',
    causes: [
      { words: 'A bell that rubs', act: 'Turn it by hand.', check: 'intake.byEye' },
      {
        words: 'It was powered for longer than the heat clock allows: no air cools it on the bench',
        act: 'Unplug the battery and let it cool.',
      },
      { words: 'The loop works too hard', act: 'Measure its load.', check: 'board.loop' },
      { words: 'Noise of the gyro reaches the motors', act: 'Run it with the airframe at rest.', check: 'sensors.gyroRest' },
    ],
  },
  {
    id: 'noPicture',
    seen: 'No picture',
    causes: [
      {
        words: 'The battery is not in: the video transmitter has no power from the cable',
        act: 'Plug it in, its antenna fitted.',
        check: 'intake.byEye',
      },
      { words: 'Its antenna is missing', act: 'Unplug the battery at once, then fit the antenna.', check: 'intake.byEye' },
      { words: 'Another channel', act: 'Compare the settings with the sheet.', check: 'board.baseline' },
      { words: 'Its firmware is another version', act: 'Read its version.', check: 'board.versions' },
    ],
  },
  {
    id: 'lostSettings',
    seen: 'Settings are lost, or not what they were',
    causes: [
      { words: 'They were never saved', act: 'Write them as one act: saved, restarted and read back.', check: 'board.baseline' },
      {
        words: 'An update of the firmware altered them',
        act: 'Look at the change after the update on the card.',
        check: 'board.firmware',
      },
      { words: 'The board was cleared', act: 'Restore the settings as received.', check: 'board.asReceived' },
    ],
  },
]
