import type { ChannelSetupChange, HandAct, HandsState } from '@taraf/contract'
import { apply, degrees, inverse, radians } from '@taraf/core/rotation'
import { newestVersions, soundEsc, soundMotor, typeFacts } from './sound'
import { Pilot } from './pilot'
import type { Rig } from './rig'
import type { ChannelSetup } from './radio/transmitter'

type Acts = { [Act in HandAct['act']]: (rig: Rig, act: Extract<HandAct, { act: Act }>) => string | null | undefined | void }

/** Does at the bench what a person would. Returns why it cannot be done, or null. */
export const actOn = (rig: Rig, act: HandAct): string | null =>
  (acts[act.act] as (rig: Rig, act: HandAct) => string | null | undefined)(rig, act) ?? null

const acts: Acts = {
  lay: ({ motion }, { way }) => {
    motion.take()
    motion.pose.lay(way)
  },
  'turn all ways': ({ motion }) => {
    motion.take()
    motion.pose.turnAllWays()
  },
  tilt: ({ motion }, { rollDeg, pitchDeg, yawDeg, dragged }) => {
    motion.take()
    const angles = {
      roll: radians(rollDeg),
      pitch: radians(pitchDeg),
      ...(yawDeg === undefined ? {} : { yaw: radians(yawDeg) }),
    }
    if (dragged === true) motion.pose.drag(angles)
    else motion.pose.hold(angles)
  },
  stand: ({ motion }, { axis, tiltDeg }) => motion.putOnStand(axis, radians(tiltDeg)),
  'put out': ({ motion }) => motion.putOut(),
  hop: (rig) => (rig.motion.mode === 'free' ? void (rig.pilot = new Pilot()) : 'It stands on the bench. Carry it out first.'),
  knock: ({ motion }) => motion.knock(),
  fasten: ({ airframe }) => void (airframe.board.screws = 'tight'),

  cable: (rig, { in: inPlace }) => rig.plugCable(inPlace),
  battery: (rig, { source }) => rig.connect(source),
  supply: ({ power }, { volts }) => void (power.supplyVolts = volts),
  limiter: (rig, { in: inLine }) => (rig.power.battery ? 'Take the battery off first.' : void (rig.power.limiter = inLine)),
  charge: ({ power, airframe }) => {
    if (power.source === 'pack') return 'Take the battery off first.'
    const { pack } = airframe.power
    power.chargedMah = (1 - pack.charge) * pack.capacityMah
    pack.charge = 1
    return
  },
  props: (rig, { on }) => {
    if (rig.turning) return 'The motors turn.'
    const { frame } = rig.airframe
    frame.propSet.forEach((prop, i) => void (frame.props[i] = on ? prop : 'none'))
    return
  },
  nuts: (rig, { on }) => (rig.turning ? 'The motors turn.' : void (rig.airframe.frame.nutsOn = on)),
  'mount prop': (rig, { position, prop }) => {
    if (rig.turning) return 'The motors turn.'
    if (position > rig.airframe.positions.length) return 'There is no such motor position.'
    const { frame } = rig.airframe
    frame.props[position - 1] = prop
    if (prop !== 'none') frame.propSet[position - 1] = prop
    return
  },
  'lay prop': (rig, { output }) => {
    const drive = rig.drives[output - 1]
    if (drive === null || drive === undefined) return 'Nothing is wired to that output.'
    const { position } = drive.build
    // The right one is that of the way in which the motor there turns.
    rig.airframe.frame.propSet[position] = drive.turn === rig.airframe.positions[position]?.turn ? 'right' : 'wrong'
    return
  },

  transmitter: ({ transmitter }, { on }) => void (transmitter.on = on),
  stick: ({ transmitter }, { stick, to }) => void (transmitter.sticks[stick] = to),
  switch: ({ transmitter }, { name, to }) => {
    const found = transmitter.build.switches.find((s) => s.name === name)
    if (found === undefined || to >= found.positions) return 'There is no such switch or position.'
    found.at = to
    return
  },
  channel: ({ transmitter }, { channel, set }) =>
    setChannel(transmitter.build.channels[channel - 1], set, transmitter.build.mostTravel),
  'stick calibration': ({ transmitter }) => {
    for (const reach of Object.values(transmitter.build.stickReach)) Object.assign(reach, { low: 1, high: 1, rest: 0 })
  },
  'mend transmitter': ({ transmitter }) => void (transmitter.build.badContact = null),
  loss: ({ airframe }, { receiver }) => void (airframe.receiver.atLoss = receiver),
  'block signal': (rig, { seconds }) => void (rig.receiver.blockedUntil = rig.clock + seconds),
  bind: (rig) => bind(rig),
  'receiver lead': ({ airframe }, { in: inPlace }) => void (airframe.receiver.lead = inPlace),
  'receiver antenna': ({ airframe }) =>
    Object.assign(airframe.receiver, { antenna: true, dropOuts: 0, quality: 0.98 }) && undefined,
  'feed receiver': ({ airframe, power }) =>
    power.battery ? 'Take the battery off first.' : void (airframe.power.receiverOnBattery = true),
  'telemetry wire': ({ airframe }, { in: inPlace }) => void (airframe.receiver.telemetry = inPlace),
  model: ({ transmitter }, { id }) => void (transmitter.build.modelId = id),

  'swap leads': (rig, { output }) => atDrive(rig, output, (drive) => void (drive.leadsSwapped = !drive.leadsSwapped)),
  'swap outputs': (rig, { a, b }) => {
    const [first, second] = [rig.airframe.drives[a - 1], rig.airframe.drives[b - 1]]
    if (!first || !second || rig.power.battery)
      return rig.power.battery ? 'Take the battery off first.' : 'Nothing is wired there.'
    ;[first.position, second.position] = [second.position, first.position]
    ;[first.drawnTurn, second.drawnTurn] = [second.drawnTurn, first.drawnTurn]
    return
  },
  'reseat esc': (rig, { output }) => atDrive(rig, output, ({ esc }) => void (esc.plug = 'home')),
  'reseat socket': ({ airframe }, { socket }) => plugIn(airframe.board.sockets[socket - 1], 'loose'),
  'rewire socket': ({ airframe }, { socket }) => plugIn(airframe.board.sockets[socket - 1], 'wires swapped'),
  'move plug': ({ airframe }, { from, to }) => {
    const [a, b] = [airframe.board.sockets[from - 1], airframe.board.sockets[to - 1]]
    if (a === undefined || b === undefined || b.plugged !== 'nothing') return 'That socket is taken.'
    Object.assign(b, a)
    Object.assign(a, { plugged: 'nothing', plug: 'home' })
    return
  },
  'turn board': ({ airframe }, { rollDeg, pitchDeg, yawDeg }) =>
    void (airframe.board.mounting = { roll: radians(rollDeg), pitch: radians(pitchDeg), yaw: radians(yawDeg) }),
  'seat board': ({ airframe }) => void (airframe.board.seating = { roll: 0, pitch: 0, yaw: 0 }),
  replace: (rig, { part }) => replace(rig, part),
  'replace motor': (rig, { output }) =>
    atDrive(rig, output, (drive) => {
      Object.assign(drive.motor, soundMotor(typeFacts(rig.airframe.type)))
      // It comes from the shelf.
      rig.drives[output - 1]?.cool()
    }),
  'replace esc': (rig, { output }) =>
    atDrive(rig, output, (drive) => void Object.assign(drive.esc, soundEsc(typeFacts(rig.airframe.type)))),
  'turn camera': ({ airframe }) => void (airframe.fitOut.camera = 'upright'),
  'fit video antenna': ({ airframe }) => void (airframe.fitOut.videoAntenna = true),
  'unplug past the board': ({ airframe }) => void airframe.fitOut.pastBoard.splice(0),
  'clear short': ({ airframe }) => void Object.assign(airframe.power, { short: false, extraRestAmps: 0 }),
  'update part': ({ airframe }, { part }) => {
    const newest = newestVersions[part]
    if (newest === undefined) return 'That part has no firmware.'
    airframe.fitOut.versions[part] = newest
    return
  },
  'change pack': ({ airframe, power }) =>
    power.battery
      ? 'Take the battery off first.'
      : void Object.assign(airframe.power.pack, { charge: 0.95, cellResistance: 0.004 }),
  'take load off': ({ airframe }) => void (airframe.frame.massKg = typeFacts(airframe.type).massKg),
  'move antenna': ({ airframe }, { forwardM, rightM, downM }) => void (airframe.fix.antenna = [forwardM, rightM, downM]),
  sky: ({ airframe }, { open }) => void (airframe.shop.outdoors = open),
}

const setChannel = (channel: ChannelSetup | undefined, set: ChannelSetupChange, mostTravel: number): string | undefined => {
  if (channel === undefined) return 'There is no such channel.'
  const { stick, travelLow, travelHigh, ...rest } = set
  if (Math.max(travelLow ?? 0, travelHigh ?? 0) > mostTravel) return `Travel goes to ${mostTravel} % only.`
  if (stick !== undefined) channel.source = { stick }
  Object.assign(channel, rest, travelLow === undefined ? {} : { travelLow }, travelHigh === undefined ? {} : { travelHigh })
  return
}

/** Binding by the receiver's steps: in one, or in two with the power off between. */
const bind = ({ receiver, transmitter, power, airframe }: Rig): string | undefined => {
  if (!power.receiverOn) return 'The receiver has no power.'
  if (!transmitter.on) return 'The transmitter is off.'
  if (airframe.receiver.bindSteps === 2 && receiver.bindStep !== 'restarted') {
    receiver.bindStep = 'waits'
    return
  }
  receiver.bindStep = 'none'
  airframe.receiver.boundTo = transmitter.build.modelId
  return
}

const atDrive = (
  rig: Rig,
  output: number,
  work: (drive: NonNullable<Rig['airframe']['drives'][number]>) => void,
): string | undefined => {
  const drive = rig.airframe.drives[output - 1]
  if (!drive) return 'Nothing is wired to that output.'
  if (rig.power.battery) return 'Take the battery off first.'
  work(drive)
  return
}

const plugIn = (
  socket: Rig['airframe']['board']['sockets'][number] | undefined,
  wrong: 'loose' | 'wires swapped',
): string | undefined => {
  if (socket === undefined || socket.plugged === 'nothing') return 'Nothing is plugged in there.'
  if (socket.plug === wrong) socket.plug = 'home'
  return
}

const replace = (rig: Rig, part: Extract<HandAct, { act: 'replace' }>['part']): string | undefined => {
  const { airframe, power } = rig
  if (power.battery) return 'Take the battery off first.'
  switch (part) {
    case 'board':
      Object.assign(airframe.imu, {
        gyroBias: [0.0012, -0.0009, 0.0006],
        gyroNoise: [0.0012, 0.0012, 0.0013],
        gyroDrift: [0, 0, 0],
        gyroScale: [1, 1, 1],
        accelBias: [0.004, -0.003, 0.006],
        accelScale: [1, 1, 1],
        accelCross: 0,
        accelNoise: 0.03,
        dead: false,
      })
      airframe.board.target = 'TIDEBOARD-4'
      airframe.board.extraLoad = 0
      airframe.board.extraJitter = 0
      rig.replaceBoard()
      return
    case 'compass':
      return void Object.assign(airframe.compass, { dead: false, hardIron: [2, -3, 1], perAmp: [0.02, 0.01, 0.02] })
    case 'barometer':
      return void Object.assign(airframe.baro, { dead: false, noiseM: 0.08, driftMPerMin: 0.02 })
    case 'position receiver':
      return void Object.assign(airframe.fix, { dead: false, secondsToFix: 45, satellites: 14, dilution: 0.9 })
    case 'receiver':
      return void Object.assign(airframe.receiver, { jitterUs: 0.4, dropOuts: 0, quality: 0.98, boundTo: null })
    case 'regulator':
      return void Object.assign(airframe.power, { railVolts: 5.05, railSagWarm: 0.02 })
    case 'camera':
      return void (airframe.fitOut.camera = 'upright')
    case 'sounder':
      return void (airframe.fitOut.sounder = true)
    case 'lights':
      return void (airframe.fitOut.lights = { front: 'white', rear: 'red', work: true })
    case 'payload':
      return void (airframe.fitOut.payload = 'works')
  }
}

/** What a person at the bench sees, hears, feels and reads. */
export const handsOf = (rig: Rig): HandsState => {
  const { motion, power, airframe, transmitter, receiver, board } = rig
  const { roll, pitch, yaw } = motion.mode === 'held' ? motion.pose.angles : motion.angles
  // A bubble on the frame shows how it leans, whatever the board thinks.
  const down = apply(inverse(motion.attitude), [0, 0, 1])
  const { props } = airframe.frame
  return {
    held: motion.mode === 'held' ? motion.pose.held : motion.mode === 'stand' ? 'stand' : 'out',
    way: motion.pose.way,
    rollDeg: degrees(roll),
    pitchDeg: degrees(pitch),
    yawDeg: degrees(yaw),
    heightM: motion.heightM,
    moving: motion.pose.moving,
    boardScrews: airframe.board.screws,
    bubbleDeg: { roll: degrees(Math.atan2(down[1], down[2])), pitch: degrees(Math.atan2(-down[0], down[2])) },
    cable: power.cable,
    battery: power.source,
    limiter: power.limiter,
    supplyVolts: power.supplyVolts,
    meter: { volts: power.volts, amps: power.amps, chargedMah: power.chargedMah },
    props: props.every((p) => p === 'none') ? 'off' : props.some((p) => p === 'none') ? 'some' : 'on',
    nuts: airframe.frame.nutsOn,
    transmitter: {
      on: transmitter.on,
      modelId: transmitter.build.modelId,
      volts: receiver.hears && airframe.receiver.telemetry && board.settings.isOn('telemetry.use') ? board.volts : null,
      sticks: { ...transmitter.sticks },
      switches: transmitter.build.switches.map((s) => ({ ...s })),
      channels: transmitter.build.channels.map(({ source, mix, ...rest }) => ({
        ...rest,
        source: source === null ? 'nothing' : 'stick' in source ? `${source.stick} stick` : `switch ${source.switch}`,
        mixed: mix !== null,
      })),
    },
    receiver: {
      light: lightOf(rig),
      lead: airframe.receiver.lead,
      atLoss: airframe.receiver.atLoss,
    },
    motors: motorsOf(rig),
    ...signalsOf(rig),
    picture: pictureOf(rig),
    sockets: airframe.board.sockets.map(({ plugged, plug }, i) => ({ socket: i + 1, plugged, plug })),
    sky: airframe.shop.outdoors,
    antenna: airframe.fix.fitted
      ? { forwardM: airframe.fix.antenna[0], rightM: airframe.fix.antenna[1], downM: airframe.fix.antenna[2] }
      : null,
    eye: {
      videoAntenna: !airframe.fitOut.videoFitted ? 'none' : airframe.fitOut.videoAntenna ? 'fitted' : 'missing',
      rubbing: airframe.drives.flatMap((d) =>
        d !== null && d.motor.rub > 0.002 ? [seatName(airframe.positions[d.position])] : [],
      ),
      props: airframe.positions.map((seat, i) => ({
        position: seatName(seat),
        turn: (airframe.frame.propSet[i] === 'wrong') === (seat.turn === 'clockwise') ? 'anticlockwise' : 'clockwise',
        whole: airframe.frame.propSet[i] !== 'damaged',
      })),
      pastBoard: airframe.fitOut.pastBoard.map((p) => ({ ...p })),
      versions: { ...airframe.fitOut.versions },
    },
    incidents: rig.incidents.length,
    ...(board.loader.loading ? { lights: 'board light steady: it waits for an image' } : {}),
  }
}

const lightOf = ({ power, receiver, airframe }: Rig): HandsState['receiver']['light'] => {
  if (!power.receiverOn) return 'off'
  if (receiver.bindStep !== 'none') return 'binding'
  if (receiver.hears) return 'steady'
  return airframe.receiver.boundTo === null ? 'blinking' : 'blinking slowly'
}

const seatName = (seat: Rig['airframe']['positions'][number] | undefined): string =>
  seat === undefined ? '' : seat.tier === 'only' ? seat.boom : `${seat.boom} ${seat.tier}`

const motorsOf = ({ drives, airframe }: Rig): HandsState['motors'] =>
  drives.flatMap((drive, i) => {
    if (drive === null) return []
    const seat = airframe.positions[drive.build.position]
    const speed = drive.rpm < 60 ? 'still' : drive.rpm < 6000 ? 'slow' : 'fast'
    return [
      {
        output: i + 1,
        position: seatName(seat),
        turn: speed === 'still' ? ('still' as const) : drive.turn,
        speed: speed as 'still' | 'slow' | 'fast',
        heatC: Math.round(drive.heatC * 2) / 2,
        rpm: Math.round(drive.rpm / 50) * 50,
        sound:
          drive.fault === 'stutter'
            ? ('stutters' as const)
            : drive.speed > 0 && drive.build.motor.roughness > 0.2
              ? ('grates' as const)
              : ('quiet' as const),
      },
    ]
  })

/** The board's light and tone as this part gives them, and what of it is really seen and heard. */
const signalsOf = ({ board, power, airframe }: Rig): { lights: string; tone: string } => {
  if (!power.boardOn) return { lights: 'dark', tone: 'silent' }
  const lost = board.failsafe.phase !== 'none' || (board.channels.length > 0 && board.failsafe.isLost(board.clock))
  const low = power.battery && board.volts / board.cells < board.settings.get('power.warnCell')
  const lights = board.arming.armed
    ? 'board light steady'
    : board.reasons.length > 0
      ? `board light blinks ${board.reasons.length} and pauses`
      : 'board light blinks slowly'
  const says = lost
    ? 'three short tones'
    : low
      ? 'one long tone, again and again'
      : board.asked.has('sounder')
        ? 'tone on and off'
        : 'silent'
  const strips = airframe.fitOut.lights
  return {
    lights: strips.work && board.settings.isOn('lights.use') ? `${lights}; front ${strips.front}, rear ${strips.rear}` : lights,
    tone: board.settings.isOn('sounder.use') && airframe.fitOut.sounder ? says : 'silent',
  }
}

/** What a video transmitter wants at the plug at the least, V (common practice: it runs from two cells on). */
const videoFromVolts = 6

const pictureOf = ({ airframe, power, board }: Rig): string => {
  const { fitOut } = airframe
  if (!fitOut.videoFitted || power.volts < videoFromVolts) return 'no picture'
  if (!fitOut.videoAntenna || board.settings.get('video.channel') !== fitOut.videoChannel) return 'snow'
  const items = ['quality', 'volts', 'timer', 'tag', 'mode', 'height'].filter((item) => board.settings.isOn(`overlay.${item}`))
  return fitOut.camera === 'dark'
    ? 'black'
    : `${fitOut.camera} picture${items.length === 0 ? '' : `, showing ${items.join(', ')}`}`
}
