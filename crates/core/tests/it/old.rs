//! What was ever kept opens for ever. For each format a folder of `tests/old` holds parts, changes and packs as they were kept
//! then. Nothing in a folder is ever changed; a new format gets a folder of its own (`FREEZE=1 cargo test -p westerfall-core
//! frozen` writes it where it is not there yet).

use crate::fixture::*;
use serde_json::{Value as Json, json};
use std::{collections::BTreeSet, path::PathBuf};
use westerfall_core::{
    access::Asker,
    history::{Change, Op},
    id::PersonId,
    pack::{Pack, Packing},
    part::Part,
    team::{Team, TeamAsker, TeamChange, TeamDef, TeamIntent, TeamPart},
    upgrade::{FORMAT, Kept, read},
    view::Shape,
};

fn folder(format: i16) -> PathBuf {
    PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("tests/old").join(format.to_string())
}

/// Parts of every sort and kind, and operations with every sort of value: some of the demo, the rest made for this.
fn samples() -> (Vec<Part>, Vec<Change>, Pack) {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let at = table(&ds, "Faults");
    let mut parts = ds.parts();
    let extra: Part = serde_json::from_value(json!({ "table": {
        "id": 900, "name": "Samples", "one": "sample", "standing": 901, "beside": 903, "mine": { "address": 908, "entered_for": 906 }, "heading": "Beside",
        "gone": "2026-11-01T08:00:00Z",
        "binned": [{ "field": { "id": 931, "name": "Old", "kind": { "type": "long_text" } }, "at": "2026-11-01T08:00:00Z" }],
        "fields": [
            { "id": 901, "name": "Text", "kind": { "type": "text", "limit": 80 }, "required": true, "unique": true, "help": "A name", "preset": { "value": { "text": "New" } } },
            { "id": 902, "name": "Share", "kind": { "type": "percent", "decimals": 1 } },
            { "id": 903, "name": "Stars", "kind": { "type": "rating", "most": 5 } },
            { "id": 904, "name": "When", "kind": { "type": "date_time" }, "preset": "now" },
            { "id": 905, "name": "Span", "kind": { "type": "range" } },
            { "id": 906, "name": "Who", "kind": { "type": "person" } },
            { "id": 907, "name": "All", "kind": { "type": "people" } },
            { "id": 908, "name": "Mail", "kind": { "type": "email" } },
            { "id": 909, "name": "Phone", "kind": { "type": "phone" } },
            { "id": 910, "name": "Web", "kind": { "type": "web" } },
            { "id": 911, "name": "Place", "kind": { "type": "place" } },
            { "id": 912, "name": "To do", "kind": { "type": "checklist" } },
            { "id": 913, "name": "Data", "kind": { "type": "json" } },
            { "id": 914, "name": "Files", "kind": { "type": "files" }, "originals": true },
            { "id": 915, "name": "Took", "kind": { "type": "duration" } },
            { "id": 916, "name": "Several", "kind": { "type": "choices", "options": [{ "id": 917, "name": "one", "hue": "plum" }] } },
            { "id": 918, "name": "Ready", "kind": { "type": "yes_no" } },
            { "id": 919, "name": "Press", "kind": { "type": "button", "label": "Go", "automation": null } },
            { "id": 920, "name": "Number", "kind": { "type": "numbering", "parts": [{ "part": "fixed", "text": "S-" }, { "part": "year" }, { "part": "month" }, { "part": "counter", "digits": 4, "restarts": "monthly" }] } },
            { "id": 921, "name": "Copied", "kind": { "type": "money", "currency": "EUR" }, "copies": { "link": 42, "field": 24 } },
            { "id": 924, "name": "Each", "kind": { "type": "summary", "links": [922], "figure": "each", "field": 41, "condition": { "all": [] }, "shows": { "type": "text", "limit": 5000 } } },
            { "id": 925, "name": "How many", "kind": { "type": "summary", "links": [922], "figure": "different", "field": 41, "condition": { "all": [] }, "shows": { "type": "number", "decimals": 0, "unit": "" } } },
            { "id": 922, "name": "Link", "kind": { "type": "link", "to": 3, "back": 923, "one": true, "holds": true },
              "offers": { "condition": { "any": [{ "test": { "path": [47], "of": "none", "check": { "is": "option", "not": true, "any": [80] } } }] }, "same": [{ "theirs": 42, "ours": 922 }], "lines": true } }
        ] } }))
    .expect("a table of every kind");
    parts.push(extra);
    let every_check = json!([
        { "is": "empty" }, { "is": "filled" }, { "is": "yes" }, { "is": "no" }, { "is": "error" },
        { "is": "text", "how": "starts", "text": "a" }, { "is": "number", "how": "atleast", "than": "1.50" }, { "is": "between", "least": "1", "most": "2" },
        { "is": "day", "how": "under", "than": { "today": -3 } }, { "is": "day", "how": "is", "than": { "date": "2026-11-26" } },
        { "is": "within", "period": { "last_days": 30 } }, { "is": "within", "period": "next_quarter" }, { "is": "older", "days": 3 },
        { "is": "option", "not": false, "any": [80] }, { "is": "person", "not": true, "any": ["me", { "person": 2 }] }, { "is": "record", "not": false, "any": [1] }
    ]);
    let tests: Vec<Json> = every_check
        .as_array()
        .expect("a list")
        .iter()
        .filter(|check| **check != json!({ "is": "within", "period": "next_quarter" }))
        .map(|check| json!({ "test": { "path": [42, 24], "of": "all", "check": check } }))
        .collect();
    let view = json!({ "view": { "id": 940, "table": 3, "name": "Every check", "owner": 2, "query": {
        "condition": { "all": [{ "any": tests }] }, "groups": [{ "field": 47, "descending": true }], "sorts": [{ "field": 41 }],
        "fields": [{ "field": 41, "width": 200 }], "tallies": [{ "field": 49, "figure": "least" }] } } });
    parts.push(serde_json::from_value(view).expect("a view of every check"));
    let shapes = json!([
        { "as": "rows", "height": "four" },
        { "as": "lanes", "by": 47, "away": [{ "choice": 80 }, "empty"], "limits": [{ "lane": { "choice": 81 }, "most": 12, "days": 14 }] },
        { "as": "calendar", "dates": [{ "start": 48, "end": 49 }, { "start": 50 }], "cap": "54" },
        { "as": "cards", "picture": 914, "fit": "whole", "size": "large" }
    ]);
    for (number, shape) in (941..).zip(shapes.as_array().expect("a list")) {
        let view = json!({ "view": { "id": number, "table": 3, "name": "Shaped", "about": "What it is for", "locked": true, "owner": null, "query": {
            "groups": [{ "field": 49, "by": "quarter", "empty": true }], "fields": [{ "field": 41, "width": 200 }],
            "tallies": [{ "field": 49, "figure": "median" }, { "field": 49, "figure": "different" }], "shape": shape } } });
        parts.push(serde_json::from_value(view).expect("a view of every shape"));
    }
    let values = json!([
        "empty", { "text": "a" }, { "number": "1.50" }, { "logical": true }, { "date": "2026-11-26" }, { "instant": "2026-11-26T10:00:00Z" },
        { "range": ["2026-11-26", "2026-11-27"] }, { "choice": 80 }, { "choices": [80, 81] }, { "person": 2 }, { "people": [2, 3] }, { "links": [1, 2] },
        { "web": { "address": "https://orrindale-paths.example", "title": "Paths" } }, { "place": { "label": "Gate", "latitude": "54.1", "longitude": "-2.4" } },
        { "files": [{ "id": "ab12", "name": "gate.jpg", "media": "image/jpeg", "size": 12 }] },
        { "checklist": [{ "text": "Look", "done": true, "person": 2, "due": "2026-11-26" }] }, { "json": { "a": [1] } }, { "error": "divisionbyzero" }
    ]);
    let values: Vec<westerfall_core::value::Value> =
        values.as_array().expect("a list").iter().filter_map(|v| serde_json::from_value(v.clone()).ok()).collect();
    let mut changes = Vec::new();
    let title = field(&ds, "Faults.What is wrong");
    let mut push = |ops: Vec<Op>| {
        let seq = changes.len() as u64 + 1;
        changes.push(Change {
            seq,
            at: clock().now,
            who: westerfall_core::people::Actor::Form(westerfall_core::id::FormId::new(120).unwrap()),
            undoes: Some(3),
            again: false,
            ops,
        });
    };
    for value in values {
        push(vec![Op::Cell {
            table: at,
            record: record(1),
            field: title,
            before: westerfall_core::value::Value::Empty,
            after: value.clone(),
        }]);
        push(vec![Op::Fill { table: at, field: title, cells: vec![(record(1), value.clone(), value)] }]);
    }
    let added = act(&mut ds, nadia, &westerfall_core::intent::Intent::Begin { table: at, cells: vec![(title, typed("Frozen"))] })
        .expect("a record");
    push(added.change.ops);
    let gone = act(&mut ds, nadia, &westerfall_core::intent::Intent::Remove { table: at, records: vec![record(2)] }).expect("gone");
    push(gone.change.ops);
    let arrival = json!({ "parameters": [{ "name": "post", "value": "12" }], "by": 2, "unsettled": [{ "field": 41, "text": "Sam" }], "receipt": "00ff", "awaits": [130] });
    push(vec![
        Op::Bin { table: at, first: record(1), count: 2, gone: true },
        Op::Press { table: at, record: record(1), field: title },
        Op::Turned { from: "2026-11-22".parse().unwrap(), to: "2026-11-23".parse().unwrap() },
        Op::Arrive {
            table: at,
            record: record(1),
            before: None,
            after: Some(Box::new(serde_json::from_value(arrival).expect("an arrival"))),
        },
    ]);
    let clock = clock();
    let pack = westerfall_core::access::Lens::new(&ds, nadia, &clock).pack(Packing::Whole).expect("the steward packs");
    push(pack.rows.iter().take(1).cloned().map(Op::Rows).collect());
    push(vec![Op::Put { before: None, after: Some(Box::new(parts[1].clone())) }]);
    let _ = Asker::Westerfall;
    (parts, changes, pack)
}

#[test]
fn frozen_samples_are_written_for_a_new_format() {
    let folder = folder(FORMAT);
    if std::env::var("FREEZE").is_err() {
        assert!(folder.join("parts.json").exists(), "format {FORMAT} has no samples: run this with FREEZE=1 and commit what it writes");
        return;
    }
    std::fs::create_dir_all(&folder).unwrap();
    let (parts, changes, pack) = samples();
    let write = |name: &str, json: Json| {
        let file = folder.join(name);
        if !file.exists() {
            std::fs::write(file, serde_json::to_string_pretty(&json).unwrap()).unwrap();
        }
    };
    write("parts.json", serde_json::to_value(parts).unwrap());
    write("changes.json", serde_json::to_value(changes).unwrap());
    write("pack.json", serde_json::to_value(pack).unwrap());
}

/// What came into a format after its samples were written: documents, cross-tabs, dashboards, how the team looks.
fn later() -> Json {
    let ds = demo();
    let is_cross = |part: &Part| matches!(part, Part::View(view) if matches!(view.query.shape, Shape::CrossTab(_)));
    let mut parts: Vec<Part> = ds.parts().into_iter().filter(|part| matches!(part, Part::Document(_)) || is_cross(part)).collect();
    let Some(Part::Document(sheet)) = parts.iter().find(|part| matches!(part, Part::Document(_))).cloned() else { panic!("a document") };
    let set =
        |size: &str| json!({ "size": size, "bold": true, "align": "right", "hue": "fern", "above": true, "below": true, "together": true });
    let block = |shows: Json| json!({ "beside": true, "shows": shows, "set": set("smaller"), "when": { "all": [] } });
    let mut every = serde_json::to_value(&sheet).unwrap();
    every["keep"] = json!(54);
    every["customs"] = json!("de-CH");
    every["blocks"] = json!([
        block(json!({ "as": "text", "text": [{ "text": "In " }, { "month": [274] }, { "text": ", " }, { "year": [274] }], "typed": true })),
        block(json!({ "as": "picture", "path": [271, 54], "height": 60 })),
        block(json!({ "as": "signature", "person": [282], "on": [276], "signed": true, "words": "approved" })),
        block(json!({ "as": "rule" })),
        block(json!({ "as": "space", "height": 9 })),
        block(json!({ "as": "break" })),
    ]);
    parts.push(Part::Document(serde_json::from_value(every).expect("every sort of block")));
    let (_, boards) = westerfall_demo::dashboards(westerfall_core::id::TrackerId::FIRST);
    let mut team = Team::default();
    for intent in westerfall_demo::beginning().into_iter().chain(boards).chain([TeamIntent::Look(westerfall_demo::look().0)]) {
        let asker = TeamAsker::Person { me: PersonId::FIRST, lets_in: true, runs: Default::default() };
        let change = team.decide(&intent, &asker, clock().now).or_else(|_| team.decide(&intent, &TeamAsker::Westerfall, clock().now));
        team.apply(&change.expect("the demo's team stands"));
    }
    let board = team.dashboards_for(PersonId::FIRST).into_iter().next().cloned().map(TeamPart::Dashboard);
    let look = TeamPart::Team(TeamDef {
        name: team.name().to_owned(),
        areas: Vec::new(),
        look: team.face().look.clone(),
        sending: team.sending(),
    });
    json!({ "parts": parts, "team": [board, look] })
}

#[test]
fn what_came_into_a_format_later_opens_too() {
    let mut found = BTreeSet::new();
    for (name, made) in [("later.json", later as fn() -> Json), ("boards.json", boards), ("messages.json", messages)] {
        if std::env::var("FREEZE").is_ok() && !folder(FORMAT).join(name).exists() {
            std::fs::write(folder(FORMAT).join(name), serde_json::to_string_pretty(&made()).unwrap()).unwrap();
        }
        opens(&frozen(5, name));
        tags(&frozen(5, name), &mut found);
    }
    for sort in "document dashboard month year before phone room call optout quiet channel".split(' ') {
        assert!(found.contains(sort), "no sample of {sort}");
    }
}

/// Messages as they are since they go by every way, automations as they call addresses and ask what held before.
fn messages() -> Json {
    let mail = |to: Json| json!({ "mail": { "to": to, "subject": [{ "text": "Look" }], "body": [{ "value": [41] }] } });
    let calls = json!({
        "method": "post", "address": [{ "text": "https://rates.orrindale-paths.example/" }], "seconds": 20, "secret": "s",
        "headers": [{ "name": "x-team", "value": "paths" }], "sends": [{ "name": "hours", "value": [{ "value": [50] }] }],
        "takes": [{ "path": "quote.price", "field": 50 }],
    });
    let plan = json!({
        "when": { "changed": [47] }, "condition": { "all": [] }, "before": { "test": { "path": [47], "of": "any", "check": { "is": "filled" } } },
        "steps": [
            mail(json!({ "phone": "+44 1632 960123" })), mail(json!({ "room": "yard" })), mail(json!({ "role": 1 })),
            { "call": { "calls": calls, "steps": ["stop"], "otherwise": [] } },
        ],
    });
    let mut automation = plan.clone();
    for (key, value) in [("id", json!(121)), ("table", json!(3)), ("name", json!("Every way")), ("on", json!(false)), ("draft", plan)] {
        automation[key] = value;
    }
    let automation: Part = serde_json::from_value(json!({ "automation": automation })).expect("an automation of every way");
    let person = json!({ "person": {
        "id": 2, "name": "Tamsin Oake", "mail": "tamsin@orrindale-paths.example", "phone": "+441632960123", "channel": "text",
        "quiet": { "from": 1260, "until": 450 },
    } });
    let said = json!({ "optout": { "id": 1, "address": "+441632960124", "all": true, "of": [{ "tracker": 1, "part": 121 }], "since": "2026-11-26T08:00:00Z" } });
    let team: Vec<TeamPart> = [person, said].into_iter().map(|part| serde_json::from_value(part).expect("a part of the team")).collect();
    json!({ "parts": [automation], "team": team })
}

/// Dashboards as they are since pages have conditions, lines targets, and figures are parts, dots and days.
fn boards() -> Json {
    let (_, boards) = westerfall_demo::dashboards(westerfall_core::id::TrackerId::FIRST);
    let mut board = boards.into_iter().find_map(|intent| match intent {
        TeamIntent::Dashboard(westerfall_core::team::DashboardWish::Keep(board)) => Some(*board),
        _ => None,
    });
    let condition = json!([{ "tracker": 1, "table": 3, "condition": { "all": [] } }]);
    let board = board.as_mut().expect("the demo has a dashboard");
    board.only = serde_json::from_value(condition).expect("a condition");
    json!({ "parts": [], "team": [TeamPart::Dashboard(board.clone())] })
}

fn opens(kept: &Json) {
    for part in kept["parts"].as_array().unwrap() {
        let opened: Part = read(Kept::Part, 5, part.to_string().as_bytes()).unwrap_or_else(|why| panic!("{why}\n{part}"));
        assert!(FORMAT > 5 || serde_json::to_value(opened).unwrap() == *part, "that is a new format: {part}");
    }
    for part in kept["team"].as_array().unwrap() {
        let opened: TeamPart = read(Kept::TeamPart, 5, part.to_string().as_bytes()).unwrap_or_else(|why| panic!("{why}\n{part}"));
        assert!(FORMAT > 5 || serde_json::to_value(opened).unwrap() == *part, "that is a new format: {part}");
    }
}

fn frozen(format: i16, name: &str) -> Json {
    let text = std::fs::read_to_string(folder(format).join(name)).unwrap_or_else(|e| panic!("{name} of format {format}: {e}"));
    serde_json::from_str(&text).unwrap()
}

#[test]
fn everything_that_was_ever_kept_opens() {
    for format in 1..=FORMAT {
        for part in frozen(format, "parts.json").as_array().unwrap() {
            let read: Part = read(Kept::Part, format, part.to_string().as_bytes())
                .unwrap_or_else(|why| panic!("a part of format {format}: {why}\n{part}"));
            if format == FORMAT {
                assert_eq!(
                    serde_json::to_value(read).unwrap(),
                    *part,
                    "what is kept now is kept in another way than it was: that is a new format"
                );
            }
        }
        for change in frozen(format, "changes.json").as_array().unwrap() {
            let change: Change = read(Kept::Change, format, change.to_string().as_bytes())
                .unwrap_or_else(|why| panic!("a change of format {format}: {why}\n{change}"));
            for op in change.ops {
                let json = serde_json::to_vec(&op).unwrap();
                assert_eq!(read::<Op>(Kept::Op, FORMAT, &json).unwrap(), op);
            }
        }
        let pack = frozen(format, "pack.json").to_string();
        let pack: Pack = read(Kept::Pack, format, pack.as_bytes()).unwrap_or_else(|why| panic!("a pack of format {format}: {why}"));
        assert!(!pack.parts.is_empty() && !pack.rows.is_empty());
    }
}

#[test]
fn every_change_of_a_team_that_was_ever_kept_opens() {
    // Teams are kept since the second format.
    for format in 2..=FORMAT {
        let mut team = Team::default();
        for change in frozen(format, "team.json").as_array().unwrap() {
            let opened: TeamChange = read(Kept::TeamChange, format, change.to_string().as_bytes())
                .unwrap_or_else(|why| panic!("a change of a team of format {format}: {why}\n{change}"));
            if format == FORMAT {
                assert_eq!(serde_json::to_value(&opened).unwrap(), *change, "that is a new format");
            }
            for part in opened.ops.iter().filter_map(|op| op.after.as_ref()) {
                let json = serde_json::to_vec(part).unwrap();
                assert_eq!(&read::<TeamPart>(Kept::TeamPart, FORMAT, &json).unwrap(), part);
            }
            team.apply(&opened);
        }
        assert_eq!((team.name(), team.people().iter().count(), team.people().groups().count()), ("Fellside Repairs", 2, 1));
        // Areas are the team's since the third.
        let areas: Vec<&str> = team.areas().iter().map(|area| area.name.as_str()).collect();
        assert_eq!(areas, if format < 3 { vec![] } else { vec!["Yard", "Works"] });
    }
}

/// The words by which variants are kept, wherever they stand in a sample.
fn tags(json: &Json, found: &mut BTreeSet<String>) {
    match json {
        Json::String(text) => drop(found.insert(text.clone())),
        Json::Array(list) => list.iter().for_each(|item| tags(item, found)),
        Json::Object(map) => {
            for (key, value) in map {
                found.insert(key.clone());
                tags(value, found);
            }
        }
        _ => {}
    }
}

#[test]
fn every_sort_of_part_operation_value_kind_and_check_has_a_sample() {
    let mut found = BTreeSet::new();
    for name in ["parts.json", "changes.json"] {
        tags(&frozen(FORMAT, name), &mut found);
    }
    let wanted = "tracker table view form role automation \
        add gone cell rows bin fill arrive press turned put \
        text number logical date instant range choice choices person people links web place files checklist json error \
        long_text money percent rating yes_no date_time duration email phone numbering created_at created_by changed_at changed_by carried summary calculation button link \
        filled day within older option record between all any test none where mine";
    let missing: Vec<&str> = wanted.split_whitespace().filter(|word| !found.contains(*word)).collect();
    assert!(missing.is_empty(), "no sample of {missing:?}");
}
