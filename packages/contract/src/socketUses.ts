/** What a serial socket can be set to be for: `socket.N.use` counts them from zero. */
export const socketUses = ['free', 'receiver', 'position', 'telemetry', 'video', 'gimbal'] as const
export type SocketUse = (typeof socketUses)[number]
