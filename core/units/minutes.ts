/** Minutes as people say them: "25 min", "3 h 10 min". */
export function minutesWords(minutes: number): string {
  if (minutes > 0 && minutes < 1) return 'under 1 min'
  const whole = Math.max(0, Math.round(minutes))
  const [h, m] = [Math.floor(whole / 60), whole % 60]
  return h === 0 ? `${m} min` : m === 0 ? `${h} h` : `${h} h ${m} min`
}
