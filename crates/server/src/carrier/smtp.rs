//! Mail: over SMTP, with what goes along.

use super::{Carrier, CutOff, Ready, Unsent, layout};
use crate::{app::App, settings::MailOut};
use futures::{FutureExt, future::BoxFuture};
use lettre::{AsyncSmtpTransport, AsyncTransport, Tokio1Executor, message::Mailbox};
use std::time::Duration;
use westerfall_store::StoreError;

/// Answers by which a mail server refuses one mail for good (RFC 5321, 4.2.3): its mailbox, or its size. What it refuses of everybody, as
/// our own password or any service at all, an operator puts right, and every mail would be lost until then.
const REFUSED_MAILS: std::ops::RangeInclusive<u16> = 550..=553;

/// The line to the mail server: connections are kept and used again.
pub(super) struct Smtp(AsyncSmtpTransport<Tokio1Executor>);

impl Smtp {
    /// # Errors
    /// The mail server's address, or the sender's, can't be understood.
    pub(super) fn new(mail: &MailOut) -> Result<Self, String> {
        let _: Mailbox = mail.sender.parse().map_err(|e| format!("the sender of mails, {}: {e}", mail.sender))?;
        let post = AsyncSmtpTransport::<Tokio1Executor>::from_url(&mail.url).map_err(|e| format!("the mail server: {e}"))?;
        Ok(Self(post.timeout(Some(Duration::from_secs(20))).build()))
    }
}

impl Carrier for Smtp {
    fn name(&self) -> &'static str {
        "the mail server"
    }

    fn carry<'a>(&'a self, app: &'a App, ready: Ready<'a>) -> BoxFuture<'a, Result<(), Unsent>> {
        async move {
            let message = layout::message(app, ready).map_err(Unsent::ForGood)?;
            self.0.send(message).await.map(drop).map_err(|error| {
                let of_the_mail = error.status().is_some_and(|code| REFUSED_MAILS.contains(&u16::from(code)));
                if of_the_mail { Unsent::ForGood(error.to_string()) } else { Unsent::ForNow(error.to_string()) }
            })
        }
        .boxed()
    }

    /// Only our own post room can say whether it arrived.
    fn cut_off<'a>(&'a self, app: &'a App, id: &'a str) -> BoxFuture<'a, Result<CutOff, StoreError>> {
        async move {
            if !app.settings.mail.own_post_room {
                return Ok(CutOff::Unsure);
            }
            Ok(if app.store.has_message(id).await? { CutOff::Arrived } else { CutOff::Again })
        }
        .boxed()
    }
}
