//! Every address that the description of the API names, tried as somebody would who wants what is not theirs, or nothing good.

use crate::fixture::*;
use axum::http::{Method, StatusCode};
use http_body_util::BodyExt;
use serde_json::{Map, Value, json};
use std::collections::BTreeMap;

/// Stands in a record of a district that is not Tamsin's, in its file's name and in what was sent of it; and nowhere else.
const MARK: &str = "zymurgy";

/// What stands for the parts of addresses.
pub(crate) type Known = BTreeMap<&'static str, Vec<String>>;

/// The operations of the API: method, path, and the schema of what is sent along.
pub(crate) fn operations() -> Vec<(Method, String, Option<Value>)> {
    let api = serde_json::to_value(westerfall_server::api::description()).unwrap();
    let mut all = Vec::new();
    for (path, item) in api["paths"].as_object().unwrap() {
        for (method, operation) in item.as_object().unwrap() {
            let Ok(method) = Method::from_bytes(method.to_uppercase().as_bytes()) else { continue };
            let body = &operation["requestBody"]["content"]["application/json"]["schema"];
            all.push((method, path.clone(), (!body.is_null()).then(|| body.clone())));
        }
    }
    all
}

/// An address with each of what its parts may be.
pub(crate) fn addresses(path: &str, known: &Known) -> Vec<String> {
    let Some((before, rest)) = path.split_once('{') else { return vec![path.to_owned()] };
    let (name, after) = rest.split_once('}').unwrap();
    let values = known.get(name).unwrap_or_else(|| panic!("say what {{{name}}} may be"));
    values.iter().flat_map(|value| addresses(after, known).into_iter().map(move |end| format!("{before}{value}{end}"))).collect()
}

fn numbers(from: &Value, key: &str) -> Vec<String> {
    from.as_array().unwrap().iter().map(|one| one[key].to_string()).collect()
}

/// A record in Harrow Tarn that bears the mark wherever it can; gives what may stand in addresses.
pub(crate) async fn marked(world: &World) -> Known {
    let (nadia, idris) = (world.person(NADIA).await, world.person(IDRIS).await);
    let section = idris.rows(2, &[20]).await["rows"][0]["id"].clone();
    let mut answers = good_answers(MARK);
    answers["42"] = json!({ "value": { "links": [section] } });
    answers["51"] = json!({ "text": format!("{MARK} Ashdale") });
    answers[DESCRIPTION.to_string()] = json!({ "text": format!("Beside the {MARK}") });
    let (status, sent) = world.stranger().answer(answers, &[(PICTURES, "zymurgy.png", &picture())], None).await;
    assert_eq!(status, StatusCode::OK, "{sent}");
    let query = json!({ "fields": shown(&[PICTURES]), "sorts": [{ "field": 40, "descending": true }] });
    let newest = nadia.query(FAULT_TABLE, query).await.1["rows"][0].clone();
    let said = json!({ "said": [{ "text": format!("{MARK} was said") }] });
    let (status, done) = nadia.post(&format!("/api/trackers/1/tables/{FAULT_TABLE}/records/{}/talk", newest["id"]), said).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let (_, tracker) = nadia.get("/api/trackers/1").await;
    let fields = tracker["tables"].as_array().unwrap().iter().flat_map(|t| numbers(&t["fields"], "id")).collect();
    let (_, automations) = nadia.get("/api/trackers/1/automations").await;
    let one = |text: &str| vec![text.to_owned()];
    BTreeMap::from([
        ("tracker", one("1")),
        ("table", numbers(&tracker["tables"], "id")),
        ("record", vec![newest["id"].to_string(), "1".into()]),
        ("field", fields),
        ("comment", one("1")),
        ("message", one("1")),
        ("place", vec!["0".into(), "4294967295".into()]),
        ("mail", one("1")),
        ("task", one("1")),
        ("ask", one("1")),
        ("draft", vec!["1".into(), "99".into()]),
        ("view", one("101")),
        ("highlight", one("400")),
        ("form", numbers(&tracker["forms"], "id")),
        ("automation", numbers(&automations, "id")),
        ("role", one("1")),
        (
            "sort",
            vec![
                "view".into(),
                "form".into(),
                "role".into(),
                "automation".into(),
                "page".into(),
                "highlight".into(),
                "document".into(),
                "table".into(),
            ],
        ),
        ("number", vec!["101".into(), "111".into(), "120".into(), "121".into(), "124".into(), "400".into(), "452".into()]),
        ("link", vec!["report-a-path-fault".into(), "order-materials".into(), "eskermoor-parish".into(), "%00".into()]),
        ("page", one("124")),
        ("key", one("ab12")),
        ("name", one("guess")),
        ("area", vec!["1".into(), "2".into(), "99".into()]),
        ("dashboard", vec!["1".into(), "99".into()]),
        ("document", vec!["452".into(), "453".into(), "454".into(), "9999".into()]),
        ("part", one("1")),
        ("secret", vec!["guess".into(), "%00".into()]),
        ("which", one("head")),
        ("template", one("1")),
        ("token", one("guess")),
        ("person", vec!["8".into(), "4294967295".into()]),
        ("group", one("1")),
        ("seq", vec!["1".into(), "18446744073709551615".into()]),
        ("session", one("guess")),
        ("file", vec![newest["cells"][0]["value"]["files"][0]["id"].as_str().unwrap().to_owned(), "code.svg".into()]),
    ])
}

async fn told(client: &Client, method: Method, path: &str, body: &str) -> (StatusCode, String) {
    let answer = client.raw(method, path, body, &[]).await;
    let status = answer.status();
    let bytes = answer.into_body().collect().await.unwrap().to_bytes();
    (status, String::from_utf8_lossy(&bytes).to_lowercase())
}

/// What asks without changing anything, at a table.
fn questions(table: &str, fields: &[String]) -> Vec<(String, Value)> {
    let numbers: Vec<u32> = fields.iter().map(|f| f.parse().unwrap()).collect();
    let at = |end: &str| format!("/api/trackers/1/tables/{table}/{end}");
    let contains =
        |field: &u32| json!({ "test": { "path": [field], "of": "any", "check": { "is": "text", "how": "contains", "text": MARK } } });
    let mut all = vec![(at("query"), json!({ "query": { "fields": shown(&numbers) }, "slices": [{ "start": 0, "count": 500 }] }))];
    for field in &numbers {
        let group = json!({ "fields": [], "groups": [{ "field": field, "descending": true }], "condition": contains(field) });
        all.push((at("query"), json!({ "query": group, "slices": [{ "start": 0, "count": 9 }] })));
        let tallies = ["count", "filled", "different", "median", "latest"].map(|figure| json!({ "field": field, "figure": figure }));
        let lanes = json!({ "fields": shown(&numbers), "shape": { "as": "lanes", "by": field } });
        let cards = json!({ "fields": shown(&numbers), "shape": { "as": "cards", "picture": field }, "sorts": [{ "field": field }] });
        for tally in tallies {
            all.push((at("query"), json!({ "query": { "fields": [], "tallies": [tally] } })));
        }
        for shaped in [lanes, cards] {
            all.push((at("query"), json!({ "query": shaped, "slices": [{ "start": 0, "count": 9 }] })));
            all.push((at("slices"), json!({ "query": shaped, "slices": [{ "start": 0, "count": 9 }, { "start": 9, "count": 9 }] })));
        }
        all.push((at("formulas"), json!({ "formula": format!("'Title' & \"{MARK}\""), "record": 1 })));
    }
    all
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_out_of_reach_comes_out_by_no_address() {
    let world = World::new().await;
    let known = marked(&world).await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let wren = world.person(WREN).await;
    let clerk = crate::pages::clerk(&world).await;
    let mut seen_by_the_steward = 0;
    for (method, path, _) in operations() {
        // Live events never end: `live::only_those_hear_who_may_see`. The post room is the stand-in for everybody's mailbox:
        // `ground::the_post_room_is_the_demos_and_outside_it_the_owners`.
        if method != Method::GET || path.ends_with("/events") || path == "/api/post-room" {
            continue;
        }
        for address in addresses(&path, &known) {
            let address = format!("{address}?search={MARK}&text=1");
            let open = told(&nadia, Method::GET, &address, "").await;
            assert!(open.0 < StatusCode::INTERNAL_SERVER_ERROR, "{address}: {open:?}");
            seen_by_the_steward += usize::from(open.1.contains(MARK));
            for (name, client) in [("Tamsin", &tamsin), ("Wren", &wren), ("a stranger", &world.stranger()), ("the clerk", &clerk)] {
                let (status, text) = told(client, Method::GET, &address, "").await;
                assert!(status < StatusCode::INTERNAL_SERVER_ERROR, "{name} at {address}: {text}");
                assert!(!text.contains(MARK), "{name} is told at {address}: {text}");
                let public = path.starts_with("/api/public/")
                    || path.starts_with("/api/demo/")
                    || path == "/api/functions"
                    || path == "/api/entrance";
                let refused = matches!(status, StatusCode::UNAUTHORIZED | StatusCode::NOT_FOUND);
                let outside = matches!(name, "a stranger" | "the clerk");
                assert!(!outside || public || refused, "{address} is open to {name}: {status}");
            }
        }
    }
    // The mark is where it is looked for.
    assert!(seen_by_the_steward > 9, "the steward saw the mark {seen_by_the_steward} times");
    for table in &known["table"] {
        for (address, body) in questions(table, &known["field"]) {
            for (name, client) in [("Tamsin", &tamsin), ("Wren", &wren)] {
                let (status, text) = told(client, Method::POST, &address, &body.to_string()).await;
                assert!(status < StatusCode::INTERNAL_SERVER_ERROR, "{name} at {address}: {text}");
                // A formula being typed comes back as it was typed; core's `ground` tries what it gives. A refusal repeats what was asked.
                let own = address.ends_with("formulas") || !status.is_success();
                assert!(
                    own || !text.replace(&format!("contains {MARK}"), "").replace(&format!("contains “{MARK}”"), "").contains(MARK),
                    "{name} is told at {address} with {body}: {text}"
                );
            }
        }
    }
}

/// Values of a schema, of the right shape and mostly without sense.
struct Maker {
    schemas: Value,
    state: u64,
}

impl Maker {
    fn pick(&mut self, of: usize) -> usize {
        self.state = self.state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        usize::try_from(self.state >> 33).unwrap() % of.max(1)
    }

    fn make(&mut self, schema: &Value, depth: usize) -> Value {
        if let Some(name) = schema["$ref"].as_str() {
            let schema = self.schemas[name.rsplit('/').next().unwrap()].clone();
            return self.make(&schema, depth);
        }
        if self.pick(40) == 0 || depth > 9 {
            return [json!(null), json!({}), json!([]), json!("x"), json!(-1)][self.pick(5)].clone();
        }
        if let Some(options) = schema["oneOf"].as_array().or(schema["anyOf"].as_array()) {
            let which = self.pick(options.len());
            return self.make(&options[which].clone(), depth + 1);
        }
        if let Some(options) = schema["enum"].as_array() {
            return options[self.pick(options.len())].clone();
        }
        if let Some(all) = schema["allOf"].as_array() {
            let parts: Vec<Value> = all.clone().iter().map(|one| self.make(one, depth + 1)).collect();
            return parts.into_iter().filter_map(|v| v.as_object().cloned()).flatten().collect::<Map<_, _>>().into();
        }
        let kind = schema["type"].as_array().map_or(&schema["type"], |kinds| &kinds[0]);
        match kind.as_str() {
            Some("array") if schema["items"].is_object() => {
                (0..self.pick(3)).map(|_| self.make(&schema["items"].clone(), depth + 1)).collect()
            }
            Some("array") => {
                schema["prefixItems"].as_array().cloned().unwrap_or_default().iter().map(|s| self.make(s, depth + 1)).collect()
            }
            Some("integer") => json!([0_u64, 1, 2, 3, 41, 42, 46, 101, 120, 9_999, 4_294_967_295, u64::MAX][self.pick(12)]),
            Some("number") => json!([0.0, -1.5, 1e300][self.pick(3)]),
            Some("boolean") => json!(self.pick(2) == 0),
            Some("string") => {
                let texts =
                    ["", "x", "2026-11-23", "2026-02-30", "0.5", "1e400", "Title", "SUM(", "report-a-path-fault", "\u{202e}٣", "a\0b"];
                json!(texts[self.pick(texts.len())])
            }
            _ => {
                let mut object = Map::new();
                for (name, one) in schema["properties"].as_object().cloned().unwrap_or_default() {
                    if self.pick(8) != 0 {
                        object.insert(name, self.make(&one, depth + 1));
                    }
                }
                object.into()
            }
        }
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn nothing_that_is_sent_breaks_a_handler() {
    let world = World::new().await;
    let mut known = marked(&world).await;
    known.insert("field", ["41", "42", "46", "20", "9999"].map(String::from).into());
    known.insert("table", ["1", "3", "77"].map(String::from).into());
    let api = serde_json::to_value(westerfall_server::api::description()).unwrap();
    let mut maker = Maker { schemas: api["components"]["schemas"].clone(), state: 7 };
    let nadia = world.person(NADIA).await;
    for (method, path, schema) in operations() {
        if method == Method::GET || path.starts_with("/api/session") || path.starts_with("/api/demo") {
            continue;
        }
        let choices = addresses(&path, &known);
        for round in 0..48 {
            let address = &choices[maker.pick(choices.len())];
            let body = match (&schema, round) {
                (_, 0) => String::new(),
                (_, 1) => "[[[[".into(),
                (Some(schema), _) => maker.make(schema, 0).to_string(),
                (None, _) => "{}".into(),
            };
            let answer = nadia.raw(method.clone(), address, &body, &[]).await;
            let (status, told) = (answer.status(), answer.headers().get("content-type").cloned());
            assert!(status < StatusCode::INTERNAL_SERVER_ERROR, "{status} for {method} {address} with {body}");
            let shaped = told.is_some_and(|kind| kind == "application/problem+json");
            assert!(status.is_success() || shaped, "{status} for {method} {address} with {body} is no problem+json");
        }
    }
    // Whatever of it was done, the tracker still stands, here and for whoever reads it anew.
    let (status, tracker) = nadia.get("/api/trackers/1").await;
    let other = world.again(settings()).await;
    let anew = other.person(NADIA).await.get("/api/trackers/1").await;
    assert_eq!((status, tracker), anew);
}
