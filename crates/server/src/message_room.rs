//! The post room's third door: a stand-in for the services that bring chat messages and texts. It speaks real HTTP on loopback, believes
//! what is signed, and keeps what came as its readers would see it.

use crate::{carrier::MESSAGE_ID, secrets::random_hex, settings::ServiceOut, ways};
use axum::{
    Router,
    body::Bytes,
    extract::{Path, State},
    http::{HeaderMap, StatusCode},
    response::{IntoResponse, Response},
    routing::post,
};
use html_escape::{encode_double_quoted_attribute, encode_text};
use jiff::Timestamp;
use serde_json::{Value, json};
use std::{fmt::Write, net::SocketAddr, time::Duration};
use westerfall_core::{automation::parts, people::Channel};
use westerfall_store::{MessageToKeep, Store, StoreError};

/// Where each way ends.
pub const CHAT: &str = "chat";
pub const TEXT: &str = "text";
/// Where it behaves as some services do, so that it can be tried how Westerfall bears it: rooms and addresses of the chat, and the last
/// digits of a phone number, that are unknown, to be tried again later, or taken slowly.
const UNKNOWN: [&str; 3] = ["@unknown.example", "#unknown", "960404"];
const LATER: [&str; 3] = ["@later.example", "#later", "960503"];
const SLOW: [&str; 3] = ["@slow.example", "#slow", "960408"];
const SLOWLY: Duration = Duration::from_secs(3);
/// Most characters of a text that stand in a list.
const BEGINNING: usize = 60;

/// Where it listens, and what signs what is sent there.
#[derive(Clone, Debug)]
pub struct MessageRoom {
    address: SocketAddr,
    secret: String,
}

impl MessageRoom {
    /// Where messages of a way are taken.
    pub fn way(&self, way: &str) -> ServiceOut {
        ServiceOut { url: format!("http://{}/{way}", self.address), secret: self.secret.clone() }
    }
}

/// Opens it at a free port of loopback.
///
/// # Errors
/// No port can be had.
pub async fn open(store: Store) -> std::io::Result<MessageRoom> {
    let listener = tokio::net::TcpListener::bind(("127.0.0.1", 0)).await?;
    let room = MessageRoom { address: listener.local_addr()?, secret: random_hex(16) };
    let router = Router::new().route("/{way}", post(came)).with_state((store, room.secret.clone()));
    tokio::spawn(async move { axum::serve(listener, router).await });
    Ok(room)
}

async fn came(State((store, secret)): State<(Store, String)>, Path(way): Path<String>, headers: HeaderMap, body: Bytes) -> Response {
    let said = |status: StatusCode, why: &str| (status, axum::Json(json!({ "why": why }))).into_response();
    let header = |name: &str| headers.get(name).and_then(|value| value.to_str().ok()).unwrap_or_default().to_owned();
    if ways::believe(&secret, &header("westerfall-timestamp"), &header("westerfall-signature"), &body).is_err() {
        return said(StatusCode::UNAUTHORIZED, "This is not signed by whoever may send here.");
    }
    let Ok(sent) = serde_json::from_slice::<Value>(&body) else { return said(StatusCode::BAD_REQUEST, "This is not JSON.") };
    let (by, to) = match &*way {
        CHAT => (Channel::Chat, address_of(&sent["to"])),
        TEXT => (Channel::Text, sent["to"].as_str().map(str::to_owned)),
        _ => return said(StatusCode::NOT_FOUND, "Nothing is taken here."),
    };
    let Some(to) = to else { return said(StatusCode::UNPROCESSABLE_ENTITY, "This says nobody to bring it to.") };
    let is = |known: &[&str]| known.iter().any(|end| to.ends_with(end));
    match () {
        () if is(&UNKNOWN) => return said(StatusCode::NOT_FOUND, "Nobody is known by that."),
        () if is(&LATER) => return said(StatusCode::SERVICE_UNAVAILABLE, "This wants to be asked later."),
        () if is(&SLOW) => tokio::time::sleep(SLOWLY).await,
        () => {}
    }
    let id = header(MESSAGE_ID).trim_matches('"').to_owned();
    match keep(&store, by, &id, &to, &sent).await {
        Ok(()) => axum::Json(json!({ "id": id })).into_response(),
        Err(error) => {
            tracing::error!(%error, "the post room could not keep a message");
            StatusCode::INTERNAL_SERVER_ERROR.into_response()
        }
    }
}

/// To whom a chat message goes: an address, or a room as `#yard`.
fn address_of(to: &Value) -> Option<String> {
    to["room"].as_str().map(|room| format!("#{room}")).or_else(|| Some(to["address"].as_str()?.to_owned()))
}

/// Keeps it once, however often it comes.
async fn keep(store: &Store, by: Channel, id: &str, to: &str, sent: &Value) -> Result<(), StoreError> {
    if store.has_message(id).await? {
        return Ok(());
    }
    let text = |key: &str| sent[key].as_str().unwrap_or_default().replace('\0', "");
    let (subject, body, page) = match by {
        Channel::Mail | Channel::Chat => (text("heading"), text("text"), chat_page(sent)),
        Channel::Text => {
            let text = text("text");
            let counted = parts(&text);
            let counted = format!("{counted} {}", if counted == 1 { "part" } else { "parts" });
            let page = page(&format!("<p class=\"bubble\">{}</p><p class=\"small\">{counted}</p>", linked(&text)));
            (beginning(&text), text, page)
        }
    };
    let message = MessageToKeep {
        message_id: id.to_owned(),
        by: Some(by),
        sender: sent["from"].as_str().filter(|from| !from.is_empty()).unwrap_or("Westerfall").to_owned(),
        recipient: to.to_owned(),
        subject,
        body,
        raw: format!("Content-Type: text/html; charset=utf-8\r\nContent-Transfer-Encoding: 8bit\r\n\r\n{page}").into_bytes(),
    };
    store.keep_message(&message, Timestamp::now()).await
}

/// What a text begins with, as it stands in a list.
fn beginning(text: &str) -> String {
    let line = text.lines().next().unwrap_or_default();
    let short: String = line.chars().take(BEGINNING).collect();
    if short == line { short } else { format!("{} …", short.rsplit_once(' ').map_or(&*short, |(whole, _)| whole)) }
}

/// A chat message as a program that shows them might: what may be answered as buttons.
fn chat_page(sent: &Value) -> String {
    let text = |value: &Value| value.as_str().unwrap_or_default().to_owned();
    let link = |words: &str, address: &Value| {
        let address = address.as_str().filter(|address| address.starts_with("http"));
        address.map_or_else(String::new, |address| {
            format!("<a href=\"{}\" target=\"_blank\">{}</a>", encode_double_quoted_attribute(address), encode_text(words))
        })
    };
    let mut inner = format!("<p><b>{}</b></p><p>{}</p>", encode_text(&text(&sent["heading"])), linked(text(&sent["text"]).trim()));
    for item in sent["items"].as_array().into_iter().flatten() {
        let _ = write!(inner, "<p class=\"item\">{} {}</p>", linked(&text(&item["text"])), link("Open it", &item["link"]));
    }
    for answer in sent["answers"].as_array().into_iter().flatten() {
        let _ = write!(inner, "<p class=\"answer\">{}</p>", link(&text(&answer["words"]), &answer["link"]));
    }
    let _ = write!(inner, "<p>{}</p>", link("Open it", &sent["link"]));
    let small = [encode_text(&text(&sent["why"])).into_owned(), link("No more of these", &sent["no_more"])];
    let _ = write!(inner, "<p class=\"small\">{}</p>", small.join(" "));
    page(&format!("<div class=\"bubble\">{inner}</div>"))
}

/// Lines of a text, with web addresses as links.
fn linked(text: &str) -> String {
    let word = |word: &str| {
        if word.starts_with("http://") || word.starts_with("https://") {
            format!("<a href=\"{}\" target=\"_blank\">{}</a>", encode_double_quoted_attribute(word), encode_text(word))
        } else {
            encode_text(word).into_owned()
        }
    };
    let line = |line: &str| line.split(' ').map(word).collect::<Vec<_>>().join(" ");
    text.lines().map(line).collect::<Vec<_>>().join("<br>")
}

fn page(inner: &str) -> String {
    format!(
        "<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><title>Message</title><style>\
         body{{margin:0;padding:18px 20px;background:#f6f4ee;color:#23261f;font:16px/1.45 sans-serif}}\
         .bubble{{max-width:420px;margin:0;border:1px solid #ddd8cb;border-radius:3px;background:#fffffe;padding:10px 14px;overflow-wrap:anywhere}}\
         p{{margin:0 0 8px}}a{{color:#4e5b1e}}.item{{border-top:1px solid #ddd8cb;padding-top:8px}}.bubble+.small{{margin:6px 0 0}}.small{{margin:0;color:#5f6356;font-size:13px}}\
         .answer a{{display:block;border:1px solid #4e5b1e;border-radius:3px;padding:8px 12px;font-weight:bold;text-decoration:none}}\
         </style></head><body>{inner}</body></html>\n"
    )
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_chat_message_is_drawn_with_its_answers_and_nothing_in_it_is_markup() {
        let page = chat_page(&json!({
            "heading": "Gate <b>", "text": "See http://t.example/a?b=\"c", "why": "Since <i>",
            "answers": [{ "words": "I’ll <go>", "link": "http://t.example/reply/1" }],
            "link": "javascript:alert(1)",
        }));
        assert!(page.contains("Gate &lt;b&gt;") && page.contains("I’ll &lt;go&gt;</a>") && page.contains("Since &lt;i&gt;"), "{page}");
        assert!(page.contains("href=\"http://t.example/a?b=&quot;c\"") && !page.contains("javascript:"), "{page}");
    }
}
