//! What somebody outside says of the messages that they get: by the link in each, on its page, or by one press of their mail program
//! (RFC 8058). Looking changes nothing.

use crate::{
    app::App,
    problem::Problem,
    secrets::{hash, random_hex},
};
use jiff::Timestamp;
use westerfall_core::{
    fault::{Fault, FaultKind},
    people::MessagesOf,
    team::{OptOutSaid, OptOutView, TeamAsker, TeamIntent},
};
use westerfall_store::{ClaimedMessage, OptOutAt, StoreError};

/// Bytes of a link's token.
const TOKEN: usize = 20;

/// Which messages a mail is one of.
pub fn messages_of(claimed: &ClaimedMessage) -> Option<MessagesOf> {
    let (tracker, part) = claimed.of.map(|(tracker, ..)| tracker).zip(claimed.automation)?;
    // Of the copy of an answer it is the number of its form.
    Some(MessagesOf { tracker, part: part.get() })
}

/// Another link for a mail that goes outside; nothing for one that does not.
///
/// # Errors
/// The database can't be asked.
pub async fn link(app: &App, claimed: &ClaimedMessage) -> Result<Option<String>, StoreError> {
    if !claimed.message.outside {
        return Ok(None);
    }
    let token = random_hex(TOKEN);
    let at = OptOutAt { address: claimed.message.to.clone(), subject: claimed.message.subject.clone(), of: messages_of(claimed) };
    app.store.give_opt_out_token(&hash(&token), &at, Timestamp::now()).await?;
    Ok(Some(format!("{}/opt-out/{token}", app.settings.public_url)))
}

/// Whether its reader still wants a mail that waits to be sent.
pub fn wanted(app: &App, claimed: &ClaimedMessage) -> bool {
    !claimed.message.outside || app.team.people().wants(&claimed.message.to, messages_of(claimed))
}

/// The message of a link.
///
/// # Errors
/// There is none.
async fn at(app: &App, token: &str) -> Result<OptOutAt, Problem> {
    let unknown = || Fault::new(FaultKind::NotFound, "No message has this address. Check it: it is the one in your message.");
    Ok(app.store.opt_out_at(&hash(token)).await?.ok_or_else(unknown)?)
}

/// What the page of a link tells now.
///
/// # Errors
/// There is no such link.
pub async fn view(app: &App, token: &str) -> Result<OptOutView, Problem> {
    let at = at(app, token).await?;
    Ok(app.team.now().opt_out_view(&at.address, &at.subject, at.of))
}

/// Takes what somebody says at a link, and tells how it is then.
///
/// # Errors
/// There is no such link.
pub async fn say(app: &App, token: &str, said: OptOutSaid) -> Result<OptOutView, Problem> {
    let at = at(app, token).await?;
    let wish = said.wish(&at.address, at.of);
    app.act_on_team(TeamAsker::Westerfall, TeamIntent::OptOut(wish)).await?;
    Ok(app.team.now().opt_out_view(&at.address, &at.subject, at.of))
}
