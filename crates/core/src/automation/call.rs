//! Calling a web address: what is sent, and what becomes of its answer. Core says what to send; the server sends it, and tells what came.

use super::Automation;
use crate::{
    access::Lens,
    dataset::Dataset,
    fault::{Fault, FaultKind},
    id::{FieldId, RecordId, TableId},
    value::Cell,
    wording::{self, Piece, Wording},
};
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value as Json};

/// Most things that are sent, and most that are taken of an answer.
const MOST: usize = 30;
/// Most headers, and the longest of them.
const MOST_HEADERS: usize = 10;
const LONGEST_HEADER: usize = 2_000;
/// Longest name of what is sent or taken, in characters.
const LONGEST_NAME: usize = 100;
/// Longest that an address may take, in seconds.
pub const MOST_SECONDS: u16 = 60;
/// The shortest secret that is worth signing with.
const LEAST_SECRET: usize = 32;
/// Longest answer that is put into a field, in characters.
const LONGEST_TAKEN: usize = 20_000;

/// How an address is called (RFC 9110).
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Method {
    Get,
    Post,
    Put,
    Patch,
    Delete,
}

impl Method {
    /// As it stands in the call.
    pub fn word(self) -> &'static str {
        match self {
            Method::Get => "GET",
            Method::Post => "POST",
            Method::Put => "PUT",
            Method::Patch => "PATCH",
            Method::Delete => "DELETE",
        }
    }
}

/// A call of a web address. `T`: how texts with values are written.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Call<T = Wording> {
    pub method: Method,
    /// Its scheme and host hold no values.
    pub address: T,
    #[serde(default)]
    pub headers: Vec<CallHeader>,
    /// What is sent: as JSON, with GET in the address.
    #[serde(default)]
    pub sends: Vec<CallSends<T>>,
    /// With what it is signed; empty: it is not.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub secret: String,
    /// What of the answer goes into which field.
    #[serde(default)]
    pub takes: Vec<CallTakes>,
    /// How long it may take, in seconds.
    pub seconds: u16,
}

/// A header of a call.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CallHeader {
    pub name: String,
    pub value: String,
}

/// Something that is sent. A value alone keeps what it is, a number or a day; within a text it is a text.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CallSends<T = Wording> {
    /// Its name; points lead inwards: *place.name*.
    pub name: String,
    pub value: T,
}

/// Something of the answer that goes into a field.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CallTakes {
    /// Where it stands in the answer: *quote.price*, *lines.0.text*.
    pub path: String,
    pub field: FieldId,
}

/// A call as it is made for one record.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Calling {
    pub method: Method,
    pub address: String,
    pub headers: Vec<CallHeader>,
    /// What is sent in its body; with GET nothing is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub body: Option<Json>,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub secret: String,
    pub takes: Vec<CallTakes>,
    pub seconds: u16,
}

/// What came of a call.
#[derive(Clone, Debug, PartialEq)]
pub struct Answered {
    /// Whether the address did what it was called for.
    pub well: bool,
    /// In words, for the log: *answered 200*, *did not answer within 20 seconds*.
    pub note: String,
    /// What it answered.
    pub body: Json,
}

impl<T> Call<T> {
    /// The same with its texts written otherwise; each is told with its place.
    pub(super) fn written<U>(&self, table: TableId, at: &str, write: &mut impl FnMut(&T, TableId, String) -> U) -> Call<U> {
        let sends = self.sends.iter().enumerate();
        Call {
            method: self.method,
            address: write(&self.address, table, format!("{at}/address")),
            headers: self.headers.clone(),
            sends: sends
                .map(|(place, one)| CallSends {
                    name: one.name.clone(),
                    value: write(&one.value, table, format!("{at}/sends/{place}/value")),
                })
                .collect(),
            secret: self.secret.clone(),
            takes: self.takes.clone(),
            seconds: self.seconds,
        }
    }
}

impl Call {
    /// The host that is called: it stands in the address as it was typed.
    pub fn host(&self) -> Option<&str> {
        let Some(Piece::Text(text)) = self.address.0.first() else { return None };
        let rest = text.strip_prefix("https://").or_else(|| text.strip_prefix("http://"))?;
        let end = rest.find(['/', '?', '#']);
        // Without an end, a value that follows would become a part of it.
        let host = match end {
            Some(end) => &rest[..end],
            None if self.address.0.len() == 1 => rest,
            None => return None,
        };
        let plain = !host.is_empty() && host.chars().all(|c| c.is_ascii_alphanumeric() || "-.:[]".contains(c));
        plain.then_some(host)
    }

    /// What is wrong with it, each with its place.
    pub(super) fn check(&self, ds: &Dataset, table: TableId) -> Vec<(Fault, String)> {
        let mut faults = Vec::new();
        let mut wrong = |message: &str, at: String| faults.push((Fault::new(FaultKind::BadRule, message), at));
        if self.host().is_none() {
            wrong("Write the address whole, as https://rates.example/latest; values stand only after its host.", "/address".into());
        }
        if self.seconds == 0 || self.seconds > MOST_SECONDS {
            wrong("A call may take from 1 to 60 seconds.", "/seconds".into());
        }
        if self.headers.len() > MOST_HEADERS || self.sends.len() > MOST || self.takes.len() > MOST {
            wrong("A call sends and takes at most 30 things, with at most 10 headers.", String::new());
        }
        if !self.secret.is_empty() && self.secret.len() < LEAST_SECRET {
            wrong("The secret of the signature is too short: make a new one.", "/secret".into());
        }
        for (place, CallHeader { name, value }) in self.headers.iter().enumerate() {
            let at = || format!("/headers/{place}");
            let token = !name.is_empty() && name.chars().all(|c| c.is_ascii_alphanumeric() || "!#$%&'*+-.^_`|~".contains(c));
            let plain = value.chars().all(|c| (' '..='~').contains(&c)) && value.len() + name.len() <= LONGEST_HEADER;
            if !token || !plain {
                wrong("A header is a name without spaces and a text of plain characters in one line.", at());
            } else if OWN.iter().any(|own| name.eq_ignore_ascii_case(own)) || name.to_ascii_lowercase().starts_with("westerfall-") {
                wrong("This header is set by Westerfall itself.", at());
            }
        }
        for (place, one) in self.sends.iter().enumerate() {
            if !is_path(&one.name) || self.sends.iter().take(place).any(|other| collide(&other.name, &one.name)) {
                wrong("Give each thing that is sent a name of its own, without spaces: price, place.name.", format!("/sends/{place}/name"));
            }
        }
        for (place, one) in self.takes.iter().enumerate() {
            let def = ds.table(table).and_then(|home| home.def.field(one.field));
            match def {
                None => wrong("This names a field that is not there any more.", format!("/takes/{place}/field")),
                Some(def) if !def.kind.takes_input() => {
                    let message = format!("“{}” is not filled in by anybody, so nothing can be put into it.", def.name);
                    wrong(&message, format!("/takes/{place}/field"));
                }
                Some(_) if !is_path(&one.path) => {
                    wrong("Say where in the answer it stands: price, quote.price, lines.0.text.", format!("/takes/{place}/path"));
                }
                Some(_) => {}
            }
        }
        faults
    }

    /// The call for one record, with values that the lens gives.
    pub(super) fn ready(&self, lens: &Lens<'_>, table: TableId, record: RecordId) -> Calling {
        let mut address = String::new();
        for (run, piece) in self.address.runs(lens, table, record).into_iter().zip(&self.address.0) {
            match piece {
                Piece::Text(text) => address.push_str(text),
                _ => address.push_str(&encoded(&run.text)),
            }
        }
        let mut body = Map::new();
        for CallSends { name, value } in &self.sends {
            let value = sent(value, lens, table, record);
            if self.method == Method::Get {
                let text = if let Json::String(text) = value { text } else { value.to_string() };
                address.push(if address.contains('?') { '&' } else { '?' });
                address.extend([encoded(name).as_str(), "=", &encoded(&text)]);
            } else {
                put(&mut body, name, value);
            }
        }
        Calling {
            method: self.method,
            address,
            headers: self.headers.clone(),
            body: (self.method != Method::Get && !self.sends.is_empty()).then_some(Json::Object(body)),
            secret: self.secret.clone(),
            takes: self.takes.clone(),
            seconds: self.seconds,
        }
    }

    /// The same without what is known to this team and the called one alone.
    pub(super) fn without_secrets(&mut self) {
        self.secret.clear();
        self.headers.iter_mut().for_each(|header| header.value.clear());
    }
}

/// Headers that nobody sets but the server.
const OWN: [&str; 8] =
    ["host", "content-length", "content-type", "connection", "transfer-encoding", "idempotency-key", "user-agent", "cookie"];

fn is_path(path: &str) -> bool {
    let part = |part: &str| !part.is_empty() && !part.chars().any(|c| c.is_whitespace() || c.is_control());
    path.chars().count() <= LONGEST_NAME && path.split('.').all(part)
}

/// Whether one of two names is the other, or leads into it.
fn collide(one: &str, other: &str) -> bool {
    let within = |outer: &str, inner: &str| inner.strip_prefix(outer).is_some_and(|rest| rest.is_empty() || rest.starts_with('.'));
    within(one, other) || within(other, one)
}

/// A text within an address: everything but letters, digits and `-._~` is encoded (RFC 3986).
fn encoded(text: &str) -> String {
    use std::fmt::Write;
    text.bytes().fold(String::new(), |mut all, byte| {
        match byte {
            b'a'..=b'z' | b'A'..=b'Z' | b'0'..=b'9' | b'-' | b'.' | b'_' | b'~' => all.push(char::from(byte)),
            _ => drop(write!(all, "%{byte:02X}")),
        }
        all
    })
}

impl Calling {
    /// The host that is called.
    pub(super) fn host(&self) -> &str {
        let rest = self.address.split_once("://").map_or("", |(_, rest)| rest);
        rest.split(['/', '?', '#']).next().unwrap_or_default()
    }

    /// Whether a value made a step upwards of its address, which every reader of it would take.
    pub(super) fn leads_up(&self) -> bool {
        let path = self.address.split(['?', '#']).next().unwrap_or_default();
        path.split('/').skip(3).any(|part| matches!(part, "." | ".."))
    }
}

/// What is sent for a text with values: a value alone as what it is.
fn sent(of: &Wording, lens: &Lens<'_>, table: TableId, record: RecordId) -> Json {
    if let [Piece::Value(path)] = of.0.as_slice()
        && let Some((at, field, records)) = wording::ends(lens, table, path, record)
        && let [only] = records.as_slice()
        && lens.shows(at, *only, field)
    {
        match lens.reader(at, field).cell(only.row()) {
            Cell::Empty => return Json::Null,
            Cell::Logical(yes) => return Json::Bool(yes),
            Cell::Json(json) => return (**json).clone(),
            // Exact, as JSON has numbers: of those that a program would round, the text.
            Cell::Number(number) => {
                let text = number.normalize().to_string();
                let exact = serde_json::from_str::<serde_json::Number>(&text).ok().filter(|exact| exact.to_string() == text);
                return exact.map_or(Json::String(text), Json::Number);
            }
            Cell::Date(day) => return Json::String(day.to_string()),
            Cell::Instant(at) => return Json::String(at.to_string()),
            _ => {}
        }
    }
    Json::String(of.fill(lens, table, record).text)
}

/// Puts a value at a path, making what lies on the way.
fn put(into: &mut Map<String, Json>, path: &str, value: Json) {
    match path.split_once('.') {
        None => drop(into.insert(path.to_owned(), value)),
        Some((first, rest)) => {
            let inner = into.entry(first.to_owned()).or_insert_with(|| Json::Object(Map::new()));
            if let Json::Object(inner) = inner {
                put(inner, rest, value);
            }
        }
    }
}

impl Answered {
    /// What stands at a place of the answer, as it would be typed into a field.
    ///
    /// # Errors
    /// In words: nothing stands there, or more than one thing.
    pub(super) fn at(&self, path: &str) -> Result<String, String> {
        let step = |at: &'_ Json, part: &str| match at {
            Json::Object(map) => map.get(part).cloned(),
            Json::Array(list) => part.parse::<usize>().ok().and_then(|place| list.get(place).cloned()),
            _ => None,
        };
        let found = path.split('.').try_fold(self.body.clone(), |at, part| step(&at, part));
        match found {
            None => Err(format!("the answer has no “{path}”")),
            Some(Json::Null) => Ok(String::new()),
            Some(Json::Bool(yes)) => Ok(if yes { "yes" } else { "no" }.to_owned()),
            Some(Json::Number(number)) => Ok(number.to_string()),
            Some(Json::String(text)) if text.chars().count() > LONGEST_TAKEN => Err(format!("“{path}” in the answer is too long")),
            Some(Json::String(text)) => Ok(text),
            Some(Json::Array(_) | Json::Object(_)) => Err(format!("“{path}” in the answer is not one value")),
        }
    }
}

impl Automation {
    /// The hosts that it calls.
    pub fn hosts(&self) -> Vec<String> {
        let mut hosts: Vec<String> = Vec::new();
        super::every(&self.steps, self.table, "", &mut |step, _, _| {
            if let super::Step::Call { calls, .. } = step {
                hosts.extend(calls.host().map(str::to_owned));
            }
        });
        hosts.sort();
        hosts.dedup();
        hosts
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn call(address: &str, rest: Option<Piece>) -> Call {
        let address = Wording([Piece::Text(address.to_owned())].into_iter().chain(rest).collect());
        Call { method: Method::Post, address, headers: vec![], sends: vec![], secret: String::new(), takes: vec![], seconds: 20 }
    }

    #[test]
    fn values_stand_after_the_host_alone() {
        let value = || Some(Piece::Value(vec![FieldId::FIRST]));
        assert_eq!(call("https://rates.example", None).host(), Some("rates.example"));
        assert_eq!(call("http://rates.example:8080/a", value()).host(), Some("rates.example:8080"));
        assert_eq!(call("https://rates.example?of=", value()).host(), Some("rates.example"));
        for wrong in
            ["https://rates.example", "https://", "ftp://rates.example/", "//rates.example/", "https://us:er@rates.example/", "https:///x"]
        {
            assert_eq!(call(wrong, value()).host(), None, "{wrong}");
        }
        let mut led = call("/path", None);
        led.address.0.insert(0, Piece::Value(vec![FieldId::FIRST]));
        assert_eq!(led.host(), None);
    }

    #[test]
    fn an_answer_is_read_by_its_paths() {
        let body = serde_json::json!({ "quote": { "price": 12.50, "lines": [{ "text": "oak" }] }, "ok": true, "none": null });
        let answer = Answered { well: true, note: String::new(), body };
        let at = |path: &str| answer.at(path);
        assert_eq!(at("quote.price"), Ok("12.5".to_owned()));
        assert_eq!(at("quote.lines.0.text"), Ok("oak".to_owned()));
        assert_eq!((at("ok"), at("none")), (Ok("yes".to_owned()), Ok(String::new())));
        assert_eq!(at("quote.lines.1.text"), Err("the answer has no “quote.lines.1.text”".to_owned()));
        assert_eq!(at("quote"), Err("“quote” in the answer is not one value".to_owned()));
    }

    proptest! {
        #[test]
        fn what_is_encoded_is_plain_and_reads_back(text in ".{0,40}") {
            let encoded = encoded(&text);
            prop_assert!(encoded.bytes().all(|b| b.is_ascii_alphanumeric() || b"-._~%".contains(&b)));
            let mut bytes = Vec::new();
            let mut rest = encoded.as_bytes();
            while let [first, after @ ..] = rest {
                if *first == b'%' {
                    bytes.push(u8::from_str_radix(std::str::from_utf8(&after[..2]).unwrap(), 16).unwrap());
                    rest = &after[2..];
                } else {
                    bytes.push(*first);
                    rest = after;
                }
            }
            prop_assert_eq!(String::from_utf8(bytes).unwrap(), text);
        }

        #[test]
        fn what_is_put_at_paths_stands_there(names in prop::collection::btree_set("[a-c](\\.[a-c]){0,2}", 1..6)) {
            let mut names: Vec<String> = names.into_iter().collect();
            let all = names.clone();
            names.retain(|name| all.iter().filter(|other| collide(name, other)).count() == 1);
            let mut body = Map::new();
            for (n, name) in names.iter().enumerate() {
                put(&mut body, name, Json::from(n));
            }
            let answer = Answered { well: true, note: String::new(), body: Json::Object(body) };
            for (n, name) in names.iter().enumerate() {
                prop_assert_eq!(answer.at(name), Ok(n.to_string()));
            }
        }
    }
}
