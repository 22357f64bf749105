/** Wrong use of the command: printed as it is, exit code 2. */
export class UsageError extends Error {
  override readonly name = 'UsageError';
}

export const USAGE = `lamp: Under Lamp's command line

  lamp hunt --events FILE [--recipe NAME] [--text '…' | --file X.wick] [--from T --to T] [--now T]
            [--list NAME=FILE.json] [--param NAME=VALUE] [--format jsonl|csv|json]
      Runs a hunt over a file of events, one JSON object a line: canonical columns by
      name, the source's own fields under "original", nothing needed but "time".
      With --recipe, or for a binary event file, over records that a recipe reads.
      The hunt comes from --text, --file or standard input; rows go to standard output.

      --from T, --to T   the window (ISO 8601); by default all events of the file
      --now T            what "now" and "over last …" mean; by default --to, else the clock
      --param NAME=VALUE fills in a blank that the hunt asks for
      --subjects FILE    what "about" finds besides: [{"kind","name","also":[{"value","from","to"}]}]
      --list NAME=FILE   a list the hunt names: {"match":"exact|network|wildcard","key":…,"rows":[…]}
      --format           jsonl (default), csv, or json: {"columns":[…],"rows":[[…]],"notes":[…]}

  lamp board --board FILE.json --events FILE.jsonl… [--from T --to T] [--now T] [--zone ZONE]
             [--list NAME=FILE.json] [--param NAME=VALUE] [--format json|html]
      Answers the cards of a board over files of events, with no server. A card that
      fails says where and why, and the others go on.

      --format           json (default): {"title","cards":[{"id","title","columns","rows","error"?}]},
                         an error with "line", "column", "message"; html: one page that needs
                         nothing else

  lamp import --source NAME --key KEY [--server URL]
              [--recipe NAME] [--format FORMAT] FILE…
      Sends files of records to a source, plain or gzipped, of any size, cut as the
      source's recipe says. Stopped and run again it doubles nothing.

      --key KEY          the key of the source; or UNDER_LAMP_KEY in the environment
      --server URL       by default http://127.0.0.1:7380
      --recipe NAME      read by this recipe instead of the source's own
      --format FORMAT    cut and read so (json, csv, syslog, …) instead of as the recipe says

  lamp sweep --rules PATH… --events FILE…|FOLDER [--format jsonl|csv|table] [--out FOLDER]
             [--logsource category=…,product=…,service=… | --logsource any] [--recipe NAME]
             [--level LEVEL] [--summary FILE.json] [--report FILE.html] [--full]
             [--study timeline|lateral-movement|brute-force]…
      Rules in the open Sigma format over files of any kind (text, gzip, zip, binary
      event files), on all cores, with no server. Without --logsource and --recipe each
      file is read by the recipe that ships and fits it, and what is no log is passed
      over. Matches go to standard output, correlations and studies last; what was read,
      refused and found goes to standard error.

      --rules PATH…      files and folders of rules
      --events FILE…     files and folders of records: JSON lines, CSV, syslog, XML, …
      --logsource        what the records are; "any" asks every rule of every record
      --recipe NAME      read by a recipe that ships, or by a file of one
      --level LEVEL      leave out what is below: informational low medium high critical
      --out FOLDER       a CSV file for each rule besides
      --summary FILE     files, records, rules and matches as JSON
      --find 'text', --matching 'regex', --code 4104
                         a search instead of rules, or besides them
      --study NAME       timeline: what happened in order; lateral-movement: sign-ins
                         between machines; brute-force: guesses, with what followed
      --report FILE      one page of HTML that needs nothing else: findings by severity
                         and time, studies, rules loaded, refused and why, files
      --full             whole values in tables and in the report

  lamp tune --rules PATH… --events FILE…|FOLDER [--verdicts FILE.jsonl] [--format table|json]
            [--logsource … | --logsource any] [--recipe NAME] [--allow-loss RULE]
      Ranks rules by their noise over files, and proposes cuts with proof: what each
      removes, that no match settled as real is lost, whether it holds in the newest third
      of the time, what it hides besides, and the filter document that does it.

      --verdicts FILE    what people said: {"rule","file","line","verdict"} for one record, or
                         {"rule","where":{field:value},"verdict"} for all with these values;
                         verdicts are real, harmless, wrong, unsure
      --allow-loss RULE  proposals for this rule may lose real matches, named one by one

  lamp read FILE… [--recipe NAME | --format FORMAT] [--as fields|events]
      What Under Lamp sees in files of any kind (text in any encoding, gzip, zstd, zip,
      tar, binary event files), one record a line: {"record":n,"fields":{…}},
      {"record":n,"event":{…}} or {"record":n,"error":"…"}.

      --recipe NAME      read by a recipe that ships, or by a file of one
      --as events        as events; without a recipe by the one that ships and reads most

Exit codes of sweep and tune: 0 done, 2 wrong use, 3 done but a rule was refused.
Exit codes: 0 done, 1 a file cannot be read, 2 wrong use or a hunt that is refused.
`;
