/** $1 ids of alerts, as JSON */
export const TELL_ALERTS = `SELECT pg_notify('lamp_alerts', $1)`;
