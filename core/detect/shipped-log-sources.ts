import type { LogSource } from '../sigma/rule-model.js';
import type { LogSourceEntry } from './log-sources.js';

// Log sources of the open format that the product knows by itself: what the usual categories and services mean in the
// records that shipped recipes read. A record's own channel, program or event number chooses.

type Fields = LogSourceEntry['fields'];
type Where = NonNullable<LogSourceEntry['where']>;

const entry = (logsource: LogSource, where: Where, fields: Fields = {}): LogSourceEntry => ({
  logsource,
  kinds: [],
  sources: [],
  where,
  fields,
});

/** Records of the operating system that keeps binary event files. */
const os = (said: LogSource, where: Where, fields?: Fields): LogSourceEntry =>
  entry({ product: 'windows', ...said }, where, fields);

/** The channels that services of the open format stand for, as endings: vendors write their names before them. */
const channels: Readonly<Record<string, readonly string[]>> = {
  security: ['Security'],
  system: ['System'],
  application: ['Application'],
  powershell: ['*PowerShell/Operational', 'PowerShellCore/Operational'],
  'powershell-classic': ['Windows PowerShell'],
  taskscheduler: ['*TaskScheduler/Operational'],
  sysmon: ['*Sysmon/Operational'],
  wmi: ['*WMI-Activity/Operational'],
  ntlm: ['*NTLM/Operational'],
  'bits-client': ['*Bits-Client/Operational'],
  'dns-client': ['*DNS-Client*', '*DNS Client*'],
  'dns-server': ['DNS Server'],
  'firewall-as': ['*Firewall With Advanced Security/Firewall'],
  'codeintegrity-operational': ['*CodeIntegrity/Operational'],
  'smbclient-security': ['*SmbClient/Security'],
  'printservice-operational': ['*PrintService/Operational'],
  'printservice-admin': ['*PrintService/Admin'],
  'driver-framework': ['*DriverFrameworks-UserMode/Operational'],
  'appxdeployment-server': ['*AppXDeploymentServer/Operational'],
  'terminalservices-localsessionmanager': ['*TerminalServices-LocalSessionManager/Operational'],
};

/** Events of the sensor: other programs use the same numbers, so a field that only the sensor writes is asked for too. */
const sensor: readonly (readonly [category: string, codes: readonly string[], field: string])[] = [
  ['process_creation', ['1'], 'Image'],
  ['file_change', ['2'], 'TargetFilename'],
  ['network_connection', ['3'], 'DestinationIp'],
  ['process_termination', ['5'], 'Image'],
  ['driver_load', ['6'], 'ImageLoaded'],
  ['image_load', ['7'], 'ImageLoaded'],
  ['create_remote_thread', ['8'], 'TargetImage'],
  ['raw_access_thread', ['9'], 'Device'],
  ['process_access', ['10'], 'TargetImage'],
  ['file_event', ['11'], 'TargetFilename'],
  ['registry_add', ['12'], 'TargetObject'],
  ['registry_delete', ['12'], 'TargetObject'],
  ['registry_set', ['13'], 'TargetObject'],
  ['registry_rename', ['14'], 'TargetObject'],
  ['registry_event', ['12', '13', '14'], 'TargetObject'],
  ['create_stream_hash', ['15'], 'TargetFilename'],
  ['pipe_created', ['17', '18'], 'PipeName'],
  ['wmi_event', ['19', '20', '21'], 'EventType'],
  ['dns_query', ['22'], 'QueryName'],
  ['file_delete', ['23', '26'], 'TargetFilename'],
  ['clipboard_capture', ['24'], 'Image'],
  ['process_tampering', ['25'], 'Image'],
  ['file_block_executable', ['27'], 'TargetFilename'],
  ['file_executable_detected', ['29'], 'TargetFilename'],
];

/** Programs of Linux by the service that rules name: over syslog, and in the journal. */
const programs: Readonly<Record<string, readonly string[]>> = {
  sshd: ['sshd', 'sshd-session'],
  sudo: ['sudo'],
  cron: ['cron', 'CRON', 'crond', 'crontab'],
  su: ['su'],
  useradd: ['useradd', 'adduser', 'usermod', 'userdel', 'groupadd'],
  systemd: ['systemd'],
  syslog: ['*'],
};

/** What a record chooses by what stands in it. */
export const recordLogSources: readonly LogSourceEntry[] = [
  os({}, { Channel: ['*'], EventID: ['*'] }),
  ...Object.entries(channels).map(([service, Channel]) => os({ service }, { Channel })),
  ...sensor.map(([category, EventID, field]) => os({ category }, { EventID, [field]: ['*'] })),
  // The audit of the system itself tells of programs, flows and the registry under names of its own.
  os(
    { category: 'process_creation' },
    { EventID: ['4688'], NewProcessName: ['*'] },
    {
      Image: 'NewProcessName',
      ParentImage: 'ParentProcessName',
      User: 'SubjectUserName',
      ProcessId: 'NewProcessId',
      LogonId: 'SubjectLogonId',
      IntegrityLevel: 'MandatoryLabel',
    },
  ),
  os(
    { category: 'process_termination' },
    { EventID: ['4689'], ProcessName: ['*'] },
    { Image: 'ProcessName', User: 'SubjectUserName' },
  ),
  os(
    { category: 'network_connection' },
    { EventID: ['5156'], DestAddress: ['*'] },
    {
      Image: 'Application',
      SourceIp: 'SourceAddress',
      DestinationIp: 'DestAddress',
      DestinationPort: 'DestPort',
    },
  ),
  ...['registry_event', 'registry_set'].map((category) =>
    os(
      { category },
      { EventID: ['4657'], ObjectName: ['*'] },
      { TargetObject: 'ObjectName', Details: 'NewValue', Image: 'ProcessName', User: 'SubjectUserName' },
    ),
  ),
  os({ category: 'ps_script' }, { EventID: ['4104'], ScriptBlockText: ['*'] }),
  os({ category: 'ps_module' }, { EventID: ['4103'], Payload: ['*'] }),
  os({ category: 'ps_classic_start' }, { EventID: ['400'], Channel: ['Windows PowerShell'] }),
  os({ category: 'ps_classic_provider_start' }, { EventID: ['600'], Channel: ['Windows PowerShell'] }),
  os({ category: 'ps_classic_script' }, { EventID: ['800'], Channel: ['Windows PowerShell'] }),
  ...Object.entries(programs).flatMap(([service, program]) => [
    entry({ product: 'linux', service }, { program }, { name: 'program' }),
    entry({ product: 'linux', service }, { SYSLOG_IDENTIFIER: program }, { name: 'SYSLOG_IDENTIFIER' }),
  ]),
  entry(
    { product: 'linux', category: 'file_event' },
    { type: ['PATH', 'SYSCALL', 'EXECVE'], name: ['*'] },
    { TargetFilename: 'name', Image: 'exe', User: 'auid' },
  ),
];

const byKind = (category: string, kinds: readonly string[], fields: Fields): LogSourceEntry => ({
  logsource: { category },
  kinds,
  sources: [],
  fields,
});

/** What the table of log sources holds at first: categories by the kind of event, whoever tells of it. */
export const kindLogSources: readonly LogSourceEntry[] = [
  byKind('authentication', ['signin'], {
    User: 'user',
    TargetUserName: 'user',
    IpAddress: 'src_ip',
    SourceIp: 'src_ip',
    WorkstationName: 'src_host',
    LogonType: 'logon_type',
    ComputerName: 'host',
  }),
  byKind('process_creation', ['process'], {
    Image: 'process_path',
    CommandLine: 'command_line',
    ParentImage: 'parent_process',
    User: 'user',
    ProcessId: 'process_id',
    Hashes: 'hashes',
    ComputerName: 'host',
    IntegrityLevel: 'elevation',
  }),
  byKind('network_connection', ['network'], {
    SourceIp: 'src_ip',
    SourcePort: 'src_port',
    DestinationIp: 'dst_ip',
    DestinationPort: 'dst_port',
    DestinationHostname: 'dst_host',
    Protocol: 'protocol',
    Image: 'process_path',
    User: 'user',
  }),
  byKind('firewall', ['network'], {
    src_ip: 'src_ip',
    dst_ip: 'dst_ip',
    src_port: 'src_port',
    dst_port: 'dst_port',
    action: 'outcome',
  }),
  byKind('dns', ['dns'], { query: 'dst_host', QueryName: 'dst_host', answer: 'dst_ip' }),
  byKind('dns_query', ['dns'], { QueryName: 'dst_host', Image: 'process_path' }),
  byKind('webserver', ['web'], {
    'c-ip': 'src_ip',
    'cs-uri-query': 'resource',
    'cs-uri-stem': 'resource',
    'cs-user-agent': 'user_agent',
    'sc-status': 'status_code',
    'cs-method': 'operation',
  }),
  byKind('proxy', ['web'], {
    'c-uri': 'resource',
    'c-useragent': 'user_agent',
    'sc-status': 'status_code',
    'cs-username': 'user',
    'cs-host': 'dst_host',
  }),
  byKind('antivirus', ['finding'], { Signature: 'finding', Filename: 'resource', ComputerName: 'host' }),
  byKind('cloud', ['cloud', 'rights', 'account'], {
    eventName: 'operation',
    sourceIPAddress: 'src_ip',
    userName: 'user',
    resourceType: 'resource_type',
  }),
  byKind('database', ['query'], { query: 'query_text', user: 'user' }),
];

// What recipes that ship call the same: the table holds one line for each kind, these stand beside it.
const besides: readonly LogSourceEntry[] = [
  byKind('dns', ['dns'], { query: 'resource', QueryName: 'resource', record_type: 'resource_type' }),
  byKind('dns_query', ['dns'], { QueryName: 'resource', query: 'resource' }),
  byKind('webserver', ['web'], {
    'c-ip': 'src_ip',
    'cs-method': 'event_code',
    'cs-uri': 'resource',
    'cs-uri-stem': 'resource',
    'cs-uri-query': 'resource',
    'cs-user-agent': 'user_agent',
    'cs-username': 'user',
    'cs-host': 'dst_host',
    'sc-status': 'status_code',
    'sc-bytes': 'bytes_out',
  }),
  byKind('database', ['query', 'signin'], { query: 'query_text', user: 'user', database: 'resource' }),
  byKind('account', ['account'], { User: 'user', TargetUserName: 'target_user', ComputerName: 'host' }),
  byKind('file_event', ['object'], { TargetFilename: 'resource', Image: 'process_path', User: 'user' }),
];

/** All that is known without anybody saying so. What the table says of a field comes after, and before it. */
export const shippedLogSources: readonly LogSourceEntry[] = [...recordLogSources, ...besides];
