/** A brushless motor as a direct-current machine (any textbook of electrical drives): SI units, KV in rpm/V. */
export interface MotorBuild {
  kv: number
  poles: number
  resistance: number
  noLoadAmps: number
  /** Rotor and bell, without a prop, kg m2. */
  inertia: number
  /** kg m: unbalanced mass times its radius. */
  imbalance: number
  /** 0 for a sound bearing, 1 for one that grates. */
  roughness: number
  /** Friction of a rubbing bell or a bent shaft, Nm. */
  rub: number
}

/** What is bolted to it: torque and thrust per (rad/s)^2, and inertia. */
export interface Load {
  readonly torque: number
  readonly thrust: number
  readonly inertia: number
}

/** The torque constant, Nm/A: the inverse of KV in SI units. */
export const torqueConstant = ({ kv }: Pick<MotorBuild, 'kv'>): number => 60 / (2 * Math.PI * kv)

/**
 * Speed after a step, rad/s: implicit Euler for the equation of motion, so that it stays stable whatever the step. With
 * `volts` null the windings are open and the rotor coasts.
 */
export const stepSpeed = (motor: MotorBuild, load: Load, speed: number, volts: number | null, dtS: number): number => {
  const k = torqueConstant(motor)
  const j = motor.inertia + load.inertia
  const friction = k * motor.noLoadAmps + motor.rub
  const pull = volts === null ? 0 : (k * volts) / motor.resistance
  const brake = volts === null ? 0 : (k * k) / motor.resistance
  const next = (speed + (dtS * (pull - friction)) / j) / (1 + (dtS * (brake + load.torque * Math.abs(speed))) / j)
  return Math.max(0, next)
}

/** Current through the windings, A. */
export const windingAmps = (motor: MotorBuild, speed: number, volts: number): number =>
  (volts - speed * torqueConstant(motor)) / motor.resistance

/** A two-bladed prop of common pitch: thrust and power coefficients of 0.11 and 0.045 (from memory, small props at rest). */
export const propLoad = (diameterM: number, airDensity = 1.225): Load => {
  const perTurn = (2 * Math.PI) ** 2
  return {
    thrust: (0.11 * airDensity * diameterM ** 4) / perTurn,
    torque: ((0.045 / (2 * Math.PI)) * airDensity * diameterM ** 5) / perTurn,
    inertia: 0.0012 * diameterM ** 3,
  }
}
/** A bare shaft only stirs the air. */
export const bareShaft: Load = { thrust: 0, torque: 2e-11, inertia: 0 }
