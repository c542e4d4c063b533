/** Which show a survey is about: an event's, or any hours at a venue. */
export interface SurveyScope {
  venueId: string;
  /** null: seen from the venue's own page. */
  eventId: string | null;
  /** Other hours than the planned ones, on the venue's clock. */
  hours: { from: string; until: string } | null;
}

const hoursQuery = ({ hours }: SurveyScope) => (hours ? `from=${hours.from}&until=${hours.until}` : "");

export function surveyPath(scope: SurveyScope): string {
  const base = scope.eventId ? `/events/${scope.eventId}` : `/venues/${scope.venueId}`;
  const query = hoursQuery(scope);
  return `${base}/survey${query ? `?${query}` : ""}`;
}

/** The list of one uplink's tests as this scope sees them; the caller adds which stretch. */
export function listPath(scope: SurveyScope, uplinkId: string): string {
  const parts = [scope.eventId ? `event=${scope.eventId}` : "", hoursQuery(scope)].filter(Boolean);
  return `/uplinks/${uplinkId}/measurements?${parts.length > 0 ? `${parts.join("&")}&` : ""}`;
}
