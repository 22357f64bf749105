-- A row for every table of the baseline, as a workbench in use has them. A later version must bring all of it along.
SELECT make_event_day('2026-11-28');
INSERT INTO users (name, display_name, role, password_hash) VALUES ('joris.penhale', 'Joris Penhale', 'analyst', 'x');
INSERT INTO api_tokens (user_id, label, token_hash) SELECT id, 'nightly', '\x01' FROM users;
INSERT INTO sessions VALUES ('s1', '{}', '2026-12-01T00:00:00Z');
INSERT INTO changes (who, kind, name, what) VALUES ('joris.penhale', 'list', 'leavers', 'added');
INSERT INTO periodic_jobs (name, title, pause_ms) VALUES ('retention', 'Let go', 1000);
INSERT INTO recipes VALUES ('web-edge', 1, '{"name":"web-edge"}');
INSERT INTO sources (name, title, recipe, key_hash, key_ending, stored) VALUES ('gate-04', 'Gate', 'web-edge', '\x02', 'abcd', 1);
INSERT INTO batches (source, stored, known, set_aside, first_event, last_event, rolled)
  VALUES ('gate-04', 1, 0, 1, '2026-11-28T10:00:00Z', '2026-11-28T10:00:00Z', true);
INSERT INTO events (id, "time", received, source, kind, outcome, "user", src_ip, original, raw, recipe_version, batch, search_extra)
  SELECT '00000000-0000-4000-8000-00000000000e', '2026-11-28T10:00:00Z', '2026-11-28T10:00:01Z', 'gate-04', 'signin', 'failure',
         'teo.marrash', '203.0.113.77', '{"x": 1}', 'user=teo.marrash', 1, id, '' FROM batches;
INSERT INTO set_aside (source, batch, code, reason, raw, raw_hash, recipe_version) SELECT 'gate-04', id, 'not-json', 'no JSON: x', 'x', '\x03', 1 FROM batches;
INSERT INTO discarded_aside (source, "group", records, because, by) VALUES ('gate-04', 'not-json', 3, 'test lines', 'joris.penhale');
INSERT INTO rereads (source, recipe, version, discard, by) VALUES ('gate-04', 'web-edge', 1, false, 'joris.penhale');
INSERT INTO pulls ("into", name, address, every_seconds, items, next, cursor_parameter) VALUES ('source', 'gate-04', 'https://a.example', 60, '', '', '');
INSERT INTO lists (name, match, key_column) VALUES ('leavers', 'exact', 'user');
INSERT INTO list_rows (list, position, key, folded, cells) VALUES ('leavers', 0, 'teo.marrash', 'teo.marrash', '{"user": "teo.marrash"}');
INSERT INTO event_hours VALUES ('2026-11-28T10:00:00Z', 'gate-04', 'signin', 'failure', 1);
INSERT INTO operation_hours VALUES ('2026-11-28T10:00:00Z', 'gate-04', NULL, 1);
INSERT INTO lag_hours VALUES ('2026-11-28T10:00:00Z', 'gate-04', 1, 1);
INSERT INTO user_days VALUES ('2026-11-28T00:00:00Z', 'gate-04', 'teo.marrash', 1);
INSERT INTO sightings VALUES ('user and address', '2026-11-28', 'teo.marrash', '203.0.113.77', '2026-11-28T10:00:00Z', '2026-11-28T10:00:00Z', 1);
INSERT INTO rules (id, title, level, text, state, live_version, owner)
  VALUES ('00000000-0000-4000-8000-000000000001', 'Refusals', 'high', 'title: Refusals', 'on', 1, 'joris.penhale');
INSERT INTO rule_versions (rule, version, text, author) SELECT id, 1, text, 'joris.penhale' FROM rules;
INSERT INTO rule_replays (text_hash, who, since, until, complete, matches, alerts) VALUES ('\x04', 'joris.penhale', now(), now(), true, 1, 1);
INSERT INTO rule_days SELECT '2026-11-28T00:00:00Z', id, 1 FROM rules;
INSERT INTO rule_marks SELECT id, 0, '00000000-0000-4000-8000-00000000000e', '2026-11-28T10:00:00Z', 'teo.marrash' FROM rules;
INSERT INTO correlation_hits (rule, document, group_key, "time", event_id) SELECT id, 0, 'teo.marrash', now(), gen_random_uuid() FROM rules;
INSERT INTO hunt_rules SELECT id, 0, now(), 1 FROM rules;
INSERT INTO hunt_runs (rule, document, version, due, began, milliseconds, told) SELECT id, 0, 1, now(), now(), 5, 1 FROM rules;
INSERT INTO hunt_rows_told SELECT id, 0, '\x05', now() FROM rules;
INSERT INTO alerts (rule, document, rule_version, title, level, key, subject, subject_fields, matches, first_event, last_event, owner)
  SELECT id, 0, 1, title, level, 'teo.marrash', 'teo.marrash', '{"user": "teo.marrash"}', 1, '2026-11-28T10:00:00Z', '2026-11-28T10:00:00Z', 'joris.penhale' FROM rules;
INSERT INTO alert_events SELECT id, '00000000-0000-4000-8000-00000000000e', '2026-11-28T10:00:00Z' FROM alerts;
INSERT INTO alert_changes (alert, who, what) SELECT id, 'joris.penhale', 'taken' FROM alerts;
INSERT INTO destinations (name, kind, address) VALUES ('sink', 'webhook', 'https://sink.example');
INSERT INTO deliveries (alert, action) SELECT id, '{"do": "webhook", "to": "sink"}' FROM alerts;
INSERT INTO responses (alert, does, subject, asked_by) SELECT id, 'suspend user', 'teo.marrash', 'joris.penhale' FROM alerts;
INSERT INTO answer_tokens SELECT '\x06', id, 'suspend user', 'teo.marrash', 'sink', now() FROM alerts;
INSERT INTO saved_hunts (name, text, owner) VALUES ('Refusals', 'from signin', 'joris.penhale');
INSERT INTO saved_hunt_versions (hunt, version, text, by) SELECT id, 1, text, owner FROM saved_hunts;
INSERT INTO hunt_points (id, path, owner, question, same, rows, complete, bars) OVERRIDING SYSTEM VALUE VALUES (1, 1, 'joris.penhale', '{}', 'x', 1, true, '{1}');
INSERT INTO snapshots (name, owner, asked, question, columns, rows, events, row_count, complete)
  VALUES ('Kept', 'joris.penhale', now(), '{}', '[]', '[]', '[]', 0, true);
INSERT INTO cases (title, owner) VALUES ('Spray', 'joris.penhale');
INSERT INTO case_pins ("case", kind, ref, title, who) SELECT id, 'alert', '1', 'Refusals', 'joris.penhale' FROM cases;
INSERT INTO case_notes ("case", who, text) SELECT id, 'joris.penhale', 'Seen.' FROM cases;
