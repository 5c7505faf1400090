//! The post room's other door: a stand-in for web addresses that automations call. It speaks real HTTP on loopback, keeps what came
//! where the post room keeps its mails, and answers as its paths say.

use axum::{
    Router,
    body::Bytes,
    extract::{Path, State},
    http::{HeaderMap, Method, StatusCode, header},
    response::{IntoResponse, Response},
    routing::any,
};
use jiff::Timestamp;
use serde_json::{Value, json};
use std::{net::SocketAddr, time::Duration};
use westerfall_store::{MessageToKeep, Store};

/// The name under which it is called.
pub const HOST: &str = "post-room.example";
/// How long it thinks where it is asked to be slow.
const SLOWLY: Duration = Duration::from_secs(5);
/// How much it says where it is asked to say much, in bytes.
const LONG: usize = 5_000_000;

/// Opens it at a free port of loopback, and gives its address.
///
/// # Errors
/// No port can be had.
pub async fn open(store: Store) -> std::io::Result<SocketAddr> {
    let listener = tokio::net::TcpListener::bind(("127.0.0.1", 0)).await?;
    let address = listener.local_addr()?;
    let router = Router::new().route("/{path}", any(called)).with_state(store);
    tokio::spawn(async move { axum::serve(listener, router).await });
    Ok(address)
}

async fn called(State(store): State<Store>, method: Method, Path(path): Path<String>, headers: HeaderMap, body: Bytes) -> Response {
    let text = String::from_utf8_lossy(&body).into_owned();
    let sent: Value = serde_json::from_slice(&body).unwrap_or(Value::Null);
    let answer = answer(&path, &sent).await;
    if let Err(error) = keep(&store, &method, &path, &headers, &text, &answer).await {
        tracing::error!(%error, "the post room could not keep a call");
        return StatusCode::INTERNAL_SERVER_ERROR.into_response();
    }
    match answer {
        Answer::Json(status, value) => (status, axum::Json(value)).into_response(),
        Answer::Elsewhere => (StatusCode::FOUND, [(header::LOCATION, "http://127.0.0.1/")]).into_response(),
        Answer::Long => vec![b'x'; LONG].into_response(),
    }
}

/// What is answered.
enum Answer {
    Json(StatusCode, Value),
    Elsewhere,
    Long,
}

async fn answer(path: &str, sent: &Value) -> Answer {
    let word = |word: &str| Answer::Json(StatusCode::OK, json!({ "heard": sent, "said": word }));
    match path {
        // What some work costs, by its hours: as somebody who does it might answer.
        "quote" => {
            let hours = sent.get("hours").and_then(Value::as_f64).filter(|hours| hours.is_finite()).unwrap_or(1.0).clamp(0.0, 10_000.0);
            let (price, days) = ((hours * 38.0 * 100.0).round() / 100.0, (hours / 6.0).ceil().max(1.0));
            Answer::Json(StatusCode::OK, json!({ "quote": { "number": format!("Q-{:04.0}", hours * 10.0), "price": price, "days": days } }))
        }
        "refuses" => Answer::Json(StatusCode::BAD_REQUEST, json!({ "why": "This is refused on purpose." })),
        "later" => Answer::Json(StatusCode::SERVICE_UNAVAILABLE, json!({ "why": "This wants to be asked later." })),
        "slow" => {
            tokio::time::sleep(SLOWLY).await;
            word("slowly")
        }
        "elsewhere" => Answer::Elsewhere,
        "long" => Answer::Long,
        _ => word("heard"),
    }
}

async fn keep(
    store: &Store,
    method: &Method,
    path: &str,
    headers: &HeaderMap,
    sent: &str,
    answer: &Answer,
) -> Result<(), westerfall_store::StoreError> {
    let shown = |name: &str| headers.get(name).and_then(|v| v.to_str().ok()).map(|value| format!("{name}: {value}\n"));
    let heads: String =
        ["content-type", "idempotency-key", "westerfall-timestamp", "westerfall-signature"].iter().filter_map(|n| shown(n)).collect();
    let answered = match answer {
        Answer::Json(status, value) => format!("{status}\n{value:#}"),
        Answer::Elsewhere => "302 Found, leading elsewhere".to_owned(),
        Answer::Long => format!("200 OK\n{LONG} bytes"),
    };
    let body = format!("{method} /{path}\n{heads}\n{sent}\n\nIt was answered:\n\n{answered}\n").replace('\0', "");
    let message = MessageToKeep {
        message_id: format!("call.{}@{HOST}", Timestamp::now().as_nanosecond()),
        by: None,
        sender: "Westerfall".to_owned(),
        recipient: format!("{HOST}/{path}"),
        subject: format!("{method} /{path}"),
        raw: format!("Content-Type: text/plain; charset=utf-8\r\n\r\n{body}").into_bytes(),
        body,
    };
    store.keep_message(&message, Timestamp::now()).await
}
