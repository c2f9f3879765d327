import type { LucideIcon } from 'lucide-react-native'
import CalendarDays from 'lucide-react-native/icons/calendar-days'
import Drone from 'lucide-react-native/icons/drone'
import FileText from 'lucide-react-native/icons/file-text'
import Stethoscope from 'lucide-react-native/icons/stethoscope'
import TriangleAlert from 'lucide-react-native/icons/triangle-alert'

/** The one set of icons (Lucide), one by one: all of it would be larger than the rest of the application. An icon always stands with a word. */
export const icons = {
  today: CalendarDays,
  airframes: Drone,
  sheets: FileText,
  notes: TriangleAlert,
  faults: Stethoscope,
} as const satisfies Readonly<Record<string, LucideIcon>>
