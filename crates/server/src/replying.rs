//! Answers to messages: at the message's link, or as a mail that answers it. Looking changes nothing; an answer is taken once.

use crate::{
    app::App,
    live::Wish,
    problem::Problem,
    secrets::{hash, random_hex},
};
use westerfall_core::{
    access::Asker,
    automation::{Replied, ReplyGiven, ReplyView, Settled},
    fault::{Fault, FaultKind},
    intent::Intent,
    people::Channel,
};
use westerfall_store::{ReplyRow, StoreError};

/// With what the address begins to which a message is answered by mail.
const ADDRESS: &str = "reply-";
/// Bytes of a link's token: it stands in addresses, too, whose first part is at most 64 characters long.
const TOKEN: usize = 16;

/// The ways to answer a message, as they stand in it.
#[derive(Clone, Debug)]
pub struct Ways {
    /// The page's address.
    pub link: String,
    /// Where a mail that answers goes, if mails come in.
    pub mail: Option<String>,
}

/// Another link for a message that is on its way. Earlier ones stay good: nobody knows which of them arrived.
///
/// # Errors
/// The database can't be asked.
pub async fn ways(app: &App, number: i64) -> Result<Ways, StoreError> {
    let token = random_hex(TOKEN);
    app.store.give_reply_token(number, &hash(&token)).await?;
    let mail = app.settings.mail.inward.first().map(|domain| format!("{ADDRESS}{token}@{domain}"));
    Ok(Ways { link: format!("{}/reply/{token}", app.settings.public_url), mail })
}

fn unknown() -> Problem {
    Fault::new(FaultKind::NotFound, "There is nothing to answer at this address. Check it: it is the one in your message.").into()
}

/// The question at a link.
///
/// # Errors
/// There is none.
pub async fn at(app: &App, token: &str) -> Result<ReplyRow, Problem> {
    app.store.reply_at(&hash(token)).await?.ok_or_else(unknown)
}

/// What its page tells now.
///
/// # Errors
/// The tracker is not there any more.
pub async fn view(app: &App, row: &ReplyRow) -> Result<ReplyView, Problem> {
    let live = app.tracker(row.tracker).await?;
    // With the customs of its reader; whoever may look no more is told why in the page itself.
    let look = live.look(row.asked.person.map_or(Asker::Westerfall, Asker::Person)).or_else(|_| live.look(Asker::Westerfall))?;
    let team = app.team.now();
    let Some(seq) = row.answered else { return Ok(row.asked.view(&look.dataset, &look.clock, team.name(), None)) };
    let change = app.store.change(row.tracker, seq).await?.ok_or_else(unknown)?;
    // Addresses outside are nobody's to be told here.
    let people = team.people();
    let mut told: Vec<String> = Vec::new();
    for message in app.store.told_by(row.tracker, seq).await? {
        let name = match message.person.and_then(|id| people.get(id)).or_else(|| people.find(&message.to)) {
            Some(person) => person.name.clone(),
            // A room of the chat; what was queued before it was noted who is outside is never one.
            None if message.by == Channel::Chat => message.to_name,
            None => "somebody outside".to_owned(),
        };
        if !told.contains(&name) {
            told.push(name);
        }
    }
    Ok(row.asked.view(&look.dataset, &look.clock, team.name(), Some(&Settled { change: &change, told })))
}

/// Takes an answer, once: a second one finds the first.
///
/// # Errors
/// Why it is not taken, as it is told to whoever gives it.
pub async fn take(app: &App, row: &ReplyRow, given: ReplyGiven) -> Result<(), Problem> {
    if row.answered.is_some() {
        return Ok(());
    }
    let live = app.tracker(row.tracker).await?;
    let asker = Asker::Automation(row.asked.automation);
    let intent = Intent::Reply(Box::new(Replied { number: row.number, asked: row.asked.clone(), given }));
    live.wish(Wish { key: Some(format!("reply {}", row.number)), ..Wish::now(intent, asker) }).await?;
    Ok(())
}

/// Takes a mail that answers one, by its text; none where it is sent to no question. `by_itself`: a machine says that it sent it.
pub async fn deliver(app: &App, recipient: &str, text: &str, by_itself: Option<&str>) -> Option<Result<(), Problem>> {
    let token = recipient.strip_prefix(ADDRESS)?;
    let row = app.store.reply_at(&hash(token)).await;
    match row {
        Ok(Some(row)) => Some(answered_by_mail(app, &row, text, by_itself).await),
        Ok(None) => None,
        Err(error) => Some(Err(error.into())),
    }
}

async fn answered_by_mail(app: &App, row: &ReplyRow, text: &str, by_itself: Option<&str>) -> Result<(), Problem> {
    // What a machine answers by itself is no answer (RFC 3834).
    if by_itself.is_some_and(|value| !value.trim().eq_ignore_ascii_case("no")) {
        return Err(Fault::new(FaultKind::NotAllowed, "A mail that was sent by itself answers nothing.").into());
    }
    let given = row.asked.reply.read(text).ok_or_else(|| {
        Problem::from(Fault::new(FaultKind::BadRule, format!("The first line of the mail is none of the answers: {}.", row.asked.asks())))
    })?;
    take(app, row, given).await
}
