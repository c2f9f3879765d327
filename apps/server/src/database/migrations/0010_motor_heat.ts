/** How long the motors of an airframe have turned without cooling, by the board that is built into it. */
export const motorHeat = {
  name: '0010_motor_heat',
  up: `
CREATE TABLE motor_heat (
  board text PRIMARY KEY,
  warm_s double precision NOT NULL CHECK (warm_s >= 0),
  at timestamptz NOT NULL DEFAULT now()
);
GRANT SELECT, INSERT, UPDATE ON motor_heat TO taraf_server;
`,
} as const
