import type { Recipe } from '../recipe-schema.js';
import { coded, networkOfSource, withField } from './parts.js';

const event = coded('EventID');
/** How somebody signed in. */
const logonType = {
  from: 'LogonType',
  values: {
    '2': '2: at the desk',
    '3': '3: over the network',
    '5': '5: as a service',
    '10': '10: remote desktop',
  },
};

/** Event records of the operating system (sign-ins, processes, services, tasks, groups, scripts, sensor). */
export const osEvents: Recipe = {
  name: 'os-events',
  title:
    'Event records of the operating system (sign-ins, processes, services, tasks, groups, scripts, sensor)',
  version: 1,
  format: 'os-event-xml',
  logsource: { product: 'windows' },
  time: { from: 'SystemTime', as: 'iso' },
  constants: { kind: 'system' },
  map: { event_code: 'EventID', host: { from: 'Computer', until: '.' } },
  cases: [
    event('4624', 'signin session.start success', {
      user: 'TargetUserName',
      src_ip: 'IpAddress',
      logon_type: logonType,
    }),
    event('4625', 'signin session.start failure', {
      user: 'TargetUserName',
      src_ip: 'IpAddress',
      status_code: 'SubStatus',
      reason: {
        from: 'SubStatus',
        values: {
          '0xC000006A': 'wrong password',
          '0xC0000064': 'no such user',
          '0xC0000072': 'account disabled',
          '0xC0000234': 'account locked',
        },
      },
      logon_type: logonType,
    }),
    event('4648', 'acting acting.start unknown', {
      user: 'SubjectUserName',
      acting_as: 'TargetUserName',
      process_path: 'ProcessName',
    }),
    event('4688', 'process process.start success', {
      user: 'SubjectUserName',
      process_path: 'NewProcessName',
      process_id: 'NewProcessId',
      command_line: 'CommandLine',
      parent_process: 'ParentProcessName',
      elevation: {
        from: 'TokenElevationType',
        values: { '%%1936': 'default', '%%1937': 'full', '%%1938': 'limited' },
      },
    }),
    event('4104', 'process script.run success', { command_line: 'ScriptBlockText', process_path: 'Path' }),
    event('7045', 'process service.install success', {
      service: 'ServiceName',
      process_path: 'ImagePath',
      user: 'SubjectUserName',
      src_host: 'InstalledFrom',
    }),
    event('4732', 'rights group.add success', {
      user: 'SubjectUserName',
      target_user: 'MemberName',
      group_name: 'TargetUserName',
    }),
    event('11707', 'software software.install success', {
      user: 'SubjectUserName',
      user_id: 'SubjectUserSid',
      application: 'ProductName',
    }),
    event('1102', 'log log.cleared success', { user: 'SubjectUserName' }, { severity: 'high' }),
    event(['4634', '4647'], 'signin session.end success', { user: 'TargetUserName', logon_type: logonType }),
    event('4697', 'process service.install success', {
      user: 'SubjectUserName',
      service: 'ServiceName',
      process_path: 'ServiceFileName',
    }),
    event('4698', 'process task.create success', {
      user: 'SubjectUserName',
      service: 'TaskName',
      command_line: 'TaskContent',
    }),
    event('4699', 'process task.delete success', { user: 'SubjectUserName', service: 'TaskName' }),
    event('4702', 'process task.update success', {
      user: 'SubjectUserName',
      service: 'TaskName',
      command_line: 'TaskContentNew',
    }),
    event('4689', 'process process.end success', {
      user: 'SubjectUserName',
      process_path: 'ProcessName',
      process_id: 'ProcessId',
    }),
    event('4720', 'account account.create success', {
      user: 'SubjectUserName',
      target_user: 'TargetUserName',
      target_id: 'TargetSid',
    }),
    event('4722', 'account account.enable success', {
      user: 'SubjectUserName',
      target_user: 'TargetUserName',
      target_id: 'TargetSid',
    }),
    event(['4723'], 'account password.change unknown', {
      user: 'SubjectUserName',
      target_user: 'TargetUserName',
      target_id: 'TargetSid',
    }),
    event('4724', 'account password.reset unknown', {
      user: 'SubjectUserName',
      target_user: 'TargetUserName',
      target_id: 'TargetSid',
    }),
    event('4725', 'account account.disable success', {
      user: 'SubjectUserName',
      target_user: 'TargetUserName',
      target_id: 'TargetSid',
    }),
    event('4726', 'account account.delete success', {
      user: 'SubjectUserName',
      target_user: 'TargetUserName',
      target_id: 'TargetSid',
    }),
    event('4738', 'account account.change success', {
      user: 'SubjectUserName',
      target_user: 'TargetUserName',
      target_id: 'TargetSid',
    }),
    event('4740', 'account account.lock success', {
      user: 'SubjectUserName',
      target_user: 'TargetUserName',
      target_id: 'TargetSid',
    }),
    event('4767', 'account account.unlock success', {
      user: 'SubjectUserName',
      target_user: 'TargetUserName',
      target_id: 'TargetSid',
    }),
    event('4781', 'account account.rename success', {
      user: 'SubjectUserName',
      target_user: 'NewTargetUserName',
      target_id: 'TargetSid',
    }),
    event(['4728', '4756'], 'rights group.add success', {
      user: 'SubjectUserName',
      target_user: 'MemberName',
      group_name: 'TargetUserName',
    }),
    event(['4729', '4733', '4757'], 'rights group.remove success', {
      user: 'SubjectUserName',
      target_user: 'MemberName',
      group_name: 'TargetUserName',
    }),
    event(['4704', '4717'], 'rights rights.grant success', {
      user: 'SubjectUserName',
      target_id: 'TargetSid',
    }),
    event(['4705', '4718'], 'rights rights.revoke success', {
      user: 'SubjectUserName',
      target_id: 'TargetSid',
    }),
    event('4739', 'rights policy.change success', { user: 'SubjectUserName' }),
    event('4719', 'log audit.changed success', { user: 'SubjectUserName' }),
    event('1100', 'log audit.stopped success', {}, { severity: 'medium' }),
    event('104', 'log log.cleared success', { user: 'SubjectUserName' }, { severity: 'high' }),
    event('11724', 'software software.remove success', {
      user: 'SubjectUserName',
      application: 'ProductName',
    }),
    event('11708', 'software software.install failure', {
      user: 'SubjectUserName',
      application: 'ProductName',
    }),
    withField(
      'Image',
      event('1', 'process process.start success', {
        user: 'User',
        process_path: 'Image',
        process_id: 'ProcessId',
        command_line: 'CommandLine',
        parent_process: 'ParentImage',
        hashes: 'Hashes',
      }),
    ),
    withField(
      'DestinationIp',
      event('3', 'network flow allowed', {
        user: 'User',
        process_path: 'Image',
        src_ip: 'SourceIp',
        src_port: 'SourcePort',
        src_host: 'SourceHostname',
        dst_ip: 'DestinationIp',
        dst_port: 'DestinationPort',
        dst_host: 'DestinationHostname',
        protocol: 'Protocol',
      }),
    ),
    withField(
      'Image',
      event('5', 'process process.end success', {
        user: 'User',
        process_path: 'Image',
        process_id: 'ProcessId',
      }),
    ),
    withField(
      'TargetFilename',
      event(['11', '15', '23', '26'], 'object object.write success', {
        user: 'User',
        process_path: 'Image',
        resource: 'TargetFilename',
        hashes: 'Hashes',
      }),
    ),
    withField(
      'TargetObject',
      event(['12', '13', '14'], 'system registry.change success', {
        user: 'User',
        process_path: 'Image',
        resource: 'TargetObject',
        message: 'Details',
      }),
    ),
    withField(
      'QueryName',
      event('22', 'dns dns.query unknown', {
        user: 'User',
        process_path: 'Image',
        resource: 'QueryName',
        message: 'QueryResults',
      }),
    ),
    withField(
      'ImageLoaded',
      event(['7', '6'], 'process module.load success', {
        user: 'User',
        process_path: 'Image',
        resource: 'ImageLoaded',
        hashes: 'Hashes',
      }),
    ),
    withField(
      'TargetImage',
      event(['8', '10'], 'process process.access success', {
        user: 'SourceUser',
        process_path: 'SourceImage',
        resource: 'TargetImage',
      }),
    ),
  ],
  lookups: [networkOfSource],
};
