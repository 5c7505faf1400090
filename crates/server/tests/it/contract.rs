//! What the description of the API says, its answers are: the interface's types are made from it.

use crate::{
    fixture::*,
    hostile::{addresses, marked, operations},
};
use axum::http::{Method, StatusCode};
use jsonschema::Validator;
use serde_json::{Value, json};
use std::collections::BTreeSet;

/// The schema of what an operation answers, if it answers JSON.
fn answer_of(api: &Value, method: &str, path: &str) -> Option<Value> {
    let schema = &api["paths"][path][method]["responses"]["200"]["content"]["application/json"]["schema"];
    (!schema.is_null()).then(|| json!({ "allOf": [schema], "components": api["components"] }))
}

/// A schema, made ready: that takes longer than holding an answer against it.
fn ready(schema: &Value) -> Validator {
    jsonschema::validator_for(schema).expect("the description is a schema")
}

/// Where an answer is not as described.
fn faults(validator: &Validator, answer: &Value) -> Vec<String> {
    validator.iter_errors(answer).map(|error| format!("{}: {error}", error.instance_path())).take(5).collect()
}

/// The names that a schema has for what an object holds, through references and alternatives.
fn known_names(api: &Value, schema: &Value, names: &mut BTreeSet<String>) -> bool {
    if let Some(reference) = schema["$ref"].as_str() {
        let name = reference.rsplit('/').next().unwrap();
        return known_names(api, &api["components"]["schemas"][name], names);
    }
    let alternatives = ["allOf", "oneOf", "anyOf"].iter().filter_map(|key| schema[key].as_array()).flatten();
    let mut said = false;
    for one in alternatives {
        said |= known_names(api, one, names);
    }
    if let Some(properties) = schema["properties"].as_object() {
        names.extend(properties.keys().cloned());
        said = true;
    }
    said && schema["additionalProperties"].is_null()
}

#[tokio::test(flavor = "multi_thread")]
async fn every_answer_is_of_the_shape_that_is_described() {
    let world = World::new().await;
    let known = marked(&world).await;
    let api = serde_json::to_value(westerfall_server::api::description()).unwrap();
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let mut looked_at = BTreeSet::new();
    for (method, path, _) in operations() {
        if method != Method::GET || path.ends_with("/events") {
            continue;
        }
        let Some(schema) = answer_of(&api, "get", &path) else { continue };
        let validator = ready(&schema);
        for address in addresses(&path, &known) {
            for client in [&nadia, &tamsin] {
                let (status, answer) = client.get(&format!("{address}?search=&text=1")).await;
                if status != StatusCode::OK {
                    continue;
                }
                looked_at.insert(path.clone());
                assert_eq!(faults(&validator, &answer), Vec::<String>::new(), "{address}");
                // Nothing is told that is not described.
                let mut names = BTreeSet::new();
                if let (true, Some(object)) = (known_names(&api, &schema, &mut names), answer.as_object()) {
                    let other: Vec<&String> = object.keys().filter(|name| !names.contains(*name)).collect();
                    assert!(other.is_empty(), "{address} tells {other:?}");
                }
            }
        }
    }
    // All that a steward can ask for was asked for and answered.
    assert!(looked_at.len() > 25, "{looked_at:?}");
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_asked_without_changing_anything_answers_as_described_too() {
    let world = World::new().await;
    let api = serde_json::to_value(westerfall_server::api::description()).unwrap();
    let nadia = world.person(NADIA).await;
    let query = json!({ "fields": shown(&[TITLE, STATUS, SECTION]), "groups": [{ "field": STATUS, "descending": false }], "sorts": [{ "field": PLANNED, "descending": true }] });
    let view = json!({ "table": FAULT_TABLE, "name": "Tried", "personal": false, "query": query });
    let asked = [
        ("/api/trackers/{tracker}/tables/{table}/query", json!({ "query": query, "slices": [{ "start": 0, "count": 9 }] })),
        (
            "/api/trackers/{tracker}/tables/{table}/query",
            json!({ "query": { "fields": [], "shape": { "as": "lanes", "by": STATUS }, "tallies": [{ "field": TITLE, "figure": "different" }] } }),
        ),
        ("/api/trackers/{tracker}/tables/{table}/slices", json!({ "query": query, "slices": [{ "start": 3, "count": 2 }] })),
        ("/api/trackers/{tracker}/tables/{table}/formulas", json!({ "formula": "COUNT(Section.Faults) + 1", "record": 1 })),
        ("/api/trackers/{tracker}/tables/{table}/formulas", json!({ "formula": "COUNT(" })),
        ("/api/trackers/{tracker}/parts/look", json!({ "part": part("view", view) })),
        ("/api/trackers/{tracker}/tables/{table}/records/{record}/because", json!({ "condition": { "all": [] } })),
    ];
    for (path, body) in asked {
        let address = path.replace("{tracker}", "1").replace("{table}", &FAULT_TABLE.to_string()).replace("{record}", "1");
        let (status, answer) = nadia.post(&address, body).await;
        assert_eq!(status, StatusCode::OK, "{address}: {answer}");
        let schema = answer_of(&api, "post", path).expect("it answers JSON");
        assert_eq!(faults(&ready(&schema), &answer), Vec::<String>::new(), "{address}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn every_refusal_is_a_problem_as_described() {
    let world = World::new().await;
    let known = marked(&world).await;
    let api = serde_json::to_value(westerfall_server::api::description()).unwrap();
    let schema = json!({ "$ref": "#/components/schemas/ProblemBody", "components": api["components"] });
    let validator = ready(&schema);
    let described = api["components"]["schemas"]["ProblemBody"].is_object();
    assert!(described, "a problem is described");
    let stranger = world.stranger();
    for (method, path, _) in operations() {
        if path.starts_with("/api/session") || path.ends_with("/events") {
            continue;
        }
        for address in addresses(&path, &known).into_iter().take(3) {
            let (status, answer) = read(stranger.raw(method.clone(), &address, "{}", &[]).await).await;
            if status.is_success() {
                continue;
            }
            assert_eq!(faults(&validator, &answer), Vec::<String>::new(), "{method} {address}: {answer}");
            assert!(answer["detail"].as_str().is_some_and(|detail| detail.ends_with(['.', '?'])), "{method} {address}: {answer}");
        }
    }
}
