import { z } from 'zod'

// The page forbids compiling code at run time (its content security policy). Zod would try as soon as a schema is made:
// this must come before every import that makes one.
z.config({ jitless: true })
