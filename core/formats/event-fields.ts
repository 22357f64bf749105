/** Attributes of the system part of event records that rules know by a name of their own, by the element that has them. */
export const attributeNames: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  Provider: { Name: 'Provider_Name', Guid: 'Provider_Guid' },
  TimeCreated: { SystemTime: 'SystemTime' },
  Execution: { ProcessID: 'Execution_ProcessID', ThreadID: 'Execution_ThreadID' },
  Security: { UserID: 'Security_UserID' },
  Correlation: { ActivityID: 'Correlation_ActivityID' },
};
