//! Chat messages and texts: a small JSON of ours, posted and signed to the service that an operator named. The service takes the same
//! `id` for the same message, so that one whose sending was cut off may be handed over again.

use super::{Carrier, CutOff, Links, Ready, Unsent};
use crate::{app::App, settings::ServiceOut, ways};
use futures::{FutureExt, future::BoxFuture};
use jiff::Timestamp;
use reqwest::{Client, StatusCode, redirect::Policy};
use serde_json::{Value, json};
use std::time::Duration;
use westerfall_core::{
    automation::{Message, ReplyBy, short},
    people::Channel,
};
use westerfall_store::{ClaimedMessage, StoreError};

/// The header that names a message, for services that look there.
pub const MESSAGE_ID: &str = "idempotency-key";
/// How long a service may think.
const PATIENCE: Duration = Duration::from_secs(20);
/// What a service says of one message alone. What it says of us, as that it does not know us, an operator puts right.
const REFUSED: [StatusCode; 5] =
    [StatusCode::BAD_REQUEST, StatusCode::NOT_FOUND, StatusCode::GONE, StatusCode::PAYLOAD_TOO_LARGE, StatusCode::UNPROCESSABLE_ENTITY];
/// Most characters that are told of what a service answered.
const TOLD: usize = 200;

/// A service that brings chat messages, or texts.
pub struct Service {
    channel: Channel,
    out: ServiceOut,
    client: Client,
}

impl Service {
    /// # Errors
    /// No client can be made.
    pub(super) fn new(channel: Channel, out: ServiceOut) -> Result<Self, String> {
        let _ = rustls::crypto::ring::default_provider().install_default();
        // What it leads to elsewhere is nobody whom the operator named.
        let client = Client::builder().redirect(Policy::none()).no_proxy().user_agent("Westerfall").timeout(PATIENCE);
        let client = client.build().map_err(|error| format!("messages by {}: {error}", channel.noun()))?;
        Ok(Self { channel, out, client })
    }

    async fn post(&self, id: &str, body: &Value) -> Result<(), Unsent> {
        let body = body.to_string();
        let moment = Timestamp::now().as_second().to_string();
        let signature = ways::signature(&self.out.secret, &moment, body.as_bytes());
        let request = self.client.post(&self.out.url).header(MESSAGE_ID, format!("\"{id}\""));
        let request = request.header("content-type", "application/json");
        let request = request.header("westerfall-timestamp", moment).header("westerfall-signature", signature);
        let mut answer = request.body(body).send().await.map_err(|error| error.without_url().to_string())?;
        let status = answer.status();
        if status.is_success() {
            return Ok(());
        }
        // Of however much it says, only what comes first.
        let said = answer.chunk().await.ok().flatten().unwrap_or_default();
        let said: String = String::from_utf8_lossy(&said).chars().filter(|c| !c.is_control()).take(TOLD).collect();
        let reason = format!("{status} {said}").trim_end().to_owned();
        Err(if REFUSED.contains(&status) { Unsent::ForGood(reason) } else { Unsent::ForNow(reason) })
    }
}

impl Carrier for Service {
    fn name(&self) -> &'static str {
        match self.channel {
            Channel::Mail | Channel::Chat => "the chat service",
            Channel::Text => "the service for texts",
        }
    }

    fn carry<'a>(&'a self, app: &'a App, ready: Ready<'a>) -> BoxFuture<'a, Result<(), Unsent>> {
        async move {
            let body = match self.channel {
                Channel::Mail | Channel::Chat => chat(app, &ready),
                Channel::Text => text(app, &ready),
            };
            self.post(ready.id, &body).await
        }
        .boxed()
    }

    fn cut_off<'a>(&'a self, _: &'a App, _: &'a str) -> BoxFuture<'a, Result<CutOff, StoreError>> {
        async { Ok(CutOff::Again) }.boxed()
    }
}

/// Where the record of a message is opened, where its reader may.
fn opens(app: &App, claimed: &ClaimedMessage) -> Option<String> {
    let (tracker, table, record) = claimed.of.filter(|_| claimed.message.opens_record)?;
    Some(format!("{}/t/{tracker}/{table}/r/{}", app.settings.public_url, record?))
}

/// What may be answered: the words of each way, and its address.
fn answers(message: &Message, links: &Links) -> Vec<(String, String)> {
    let Some((asked, ways)) = message.asks.as_ref().zip(links.ways.as_ref()) else { return Vec::new() };
    match &asked.reply.answers {
        ReplyBy::Choices(choices) => {
            choices.iter().enumerate().map(|(place, one)| (one.words.clone(), format!("{}?with={}", ways.link, place + 1))).collect()
        }
        ReplyBy::Typed { asks, .. } => vec![(asks.clone(), ways.link.clone())],
    }
}

fn chat(app: &App, ready: &Ready<'_>) -> Value {
    let Ready { claimed, links, id, .. } = ready;
    let message = &claimed.message;
    let to = match message.to.strip_prefix('#') {
        Some(room) => json!({ "room": room }),
        None => json!({ "address": message.to, "name": message.to_name }),
    };
    let item = |item: &westerfall_core::automation::Item| {
        let link = claimed
            .of
            .zip(item.opens)
            .map(|((tracker, ..), (table, record))| format!("{}/t/{tracker}/{table}/r/{record}", app.settings.public_url));
        json!({ "text": item.text.trim_end(), "link": link })
    };
    let answers: Vec<Value> = answers(message, links).into_iter().map(|(words, link)| json!({ "words": words, "link": link })).collect();
    json!({
        "id": id,
        "from": app.team.now().name(),
        "to": to,
        "heading": message.subject,
        "text": message.body.trim_end(),
        "items": message.items.iter().map(item).collect::<Vec<_>>(),
        "answers": answers,
        "link": opens(app, claimed),
        "why": message.why,
        "no_more": links.opt_out,
    })
}

fn text(app: &App, ready: &Ready<'_>) -> Value {
    let Ready { claimed, links, id, .. } = ready;
    let message = &claimed.message;
    // On a phone one link leads to all that may be answered.
    let answer = links.ways.as_ref().filter(|_| message.asks.is_some()).map(|ways| format!("Answer: {}", ways.link));
    let open = opens(app, claimed).filter(|_| answer.is_none()).map(|link| format!("Open: {link}"));
    let no_more = links.opt_out.as_ref().map(|link| format!("No more: {link}"));
    let lines: Vec<String> = [answer, open, no_more].into_iter().flatten().collect();
    // Of many records as many as fit.
    let items: Vec<&str> = message.items.iter().map(|item| item.text.trim()).collect();
    let body = format!("{} {}", message.body, items.join("; "));
    json!({ "id": id, "from": app.team.now().name(), "to": message.to, "text": short(&message.subject, &body, &lines) })
}
