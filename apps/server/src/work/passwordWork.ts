import { hashSync, verifySync } from '@node-rs/argon2'

/** Runs in processes of their own: whatever else the process works at, people can sign in. Argon2id (RFC 9106). */
export const hashPassword = (password: string): string => hashSync(password)
export const verifyPassword = ({ hash, password }: { hash: string; password: string }): boolean => verifySync(hash, password)
