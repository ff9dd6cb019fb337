/** Whether the database's calendar has a time: years of four digits. */
export const inCalendar = (t: Date): boolean => t.getTime() >= Date.UTC(1000, 0) && t.getTime() < Date.UTC(9999, 0);
