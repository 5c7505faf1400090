//! What the team writes to its people: plain, short, with the one thing to do.

use super::Team;
use crate::{
    automation::Message,
    people::{Person, Reached},
    rounds::Morning,
};

/// Why the team writes to somebody; each with the address, or the code, that does it once.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Letter<'a> {
    /// They are invited, with a word of whoever invites them.
    Invitation { by: &'a str, word: &'a str, link: &'a str },
    /// They forgot their password.
    Password { link: &'a str },
    /// Somebody spoke to them about a record, or said something about one that they follow.
    Spoken { by: &'a str, of: &'a str, tracker: &'a str, said: &'a str, link: &'a str },
    /// Something else that stands in their inbox. `line`: what it tells.
    News { line: &'a str, of: &'a str, link: &'a str },
    /// What of their rounds is late, or near; and what they want to be told of once a day.
    Morning { told: Option<&'a Morning>, news: &'a [String], link: &'a str },
    /// They sign in with a code.
    Code { code: &'a str },
    /// Somebody outside comes to a shared page with a code.
    PageCode { page: &'a str, code: &'a str },
    /// Their address is to become another: written to the new one.
    NewAddress { link: &'a str },
    /// The same, written to the old one.
    OldAddress { new: &'a str, link: &'a str },
}

impl Letter<'_> {
    /// As it is sent to somebody. `cause`: the same for the same cause, so that it goes out once.
    pub fn to(&self, team: &Team, person: &Person, at: Reached, cause: &str) -> Message {
        let name = if team.name().is_empty() { "your team" } else { team.name() };
        let (subject, body) = self.words(name);
        // Only a mail begins as one.
        let dear = if at.by.is_mail() { format!("Dear {},\n\n", person.name) } else { String::new() };
        Message {
            key: cause.to_owned(),
            by: at.by,
            to: at.to,
            to_name: person.name.clone(),
            subject,
            body: format!("{dear}{body}\n"),
            ..Message::default()
        }
    }

    fn words(&self, team: &str) -> (String, String) {
        const NOT_YOU: &str = "If you did not ask for this, do nothing: nothing changes.";
        match self {
            Letter::Invitation { by, word, link } => {
                let word = if word.trim().is_empty() { String::new() } else { format!("{}\n\n", word.trim()) };
                let body = format!(
                    "{by} invites you to work with {team}.\n\n{word}Open this address to choose how you sign in:\n{link}\n\n\
                     It works once, and for 14 days."
                );
                (format!("{by} invites you to {team}"), body)
            }
            Letter::Password { link } => (
                format!("Another password for {team}"),
                format!("Open this address to choose another password:\n{link}\n\nIt works once, and for 30 minutes. {NOT_YOU}"),
            ),
            Letter::Spoken { by, of, tracker, said, link } => {
                (format!("{by} on “{of}”"), format!("{by} said about “{of}” in {tracker}:\n\n{said}\n\nAnswer there:\n{link}"))
            }
            Letter::News { line, of, link } => (line.trim().to_owned(), format!("{line}{of}.\n\nSee it there:\n{link}")),
            Letter::Morning { told, news, link } => {
                let since = (!news.is_empty()).then(|| format!("Since yesterday:\n{}", news.join("\n")));
                let (heading, rounds) = match told {
                    Some(told) => (format!("On your rounds: {}", told.heading), Some(told.lines.join("\n"))),
                    None => (format!("{} in your inbox since yesterday", news.len()), None),
                };
                let said = rounds.into_iter().chain(since).collect::<Vec<_>>().join("\n\n");
                let there = if told.is_some() { "See and do them there" } else { "See it there" };
                (heading, format!("{said}\n\n{there}:\n{link}\n\nWhether this comes is said in your inbox."))
            }
            Letter::Code { code } => (
                format!("{code} is your code for {team}"),
                format!("Type this code where you sign in:\n\n{code}\n\nIt works once, and for 10 minutes. {NOT_YOU}"),
            ),
            Letter::PageCode { page, code } => (
                format!("{code} is your code for “{page}”"),
                format!(
                    "{team} shares the page “{page}” with you. Type this code there:\n\n{code}\n\nIt works once, and for 10 minutes. {NOT_YOU}"
                ),
            ),
            Letter::NewAddress { link } => (
                format!("Is this your address at {team}?"),
                format!(
                    "You want to sign in to {team} with this address. Open this to say that it reaches you:\n{link}\n\n\
                     It works once, and for a day. {NOT_YOU}"
                ),
            ),
            Letter::OldAddress { new, link } => (
                format!("Your address at {team} is to change"),
                format!(
                    "You asked {team} to write to {new} from now on, and to sign you in with it. Open this to say that it was you:\n{link}\n\n\
                     It works once, and for a day. {NOT_YOU}"
                ),
            ),
        }
    }
}
