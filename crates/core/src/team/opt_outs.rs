//! Addresses outside the team that want no more messages: who says so, and who may take it back.

use super::{
    Put, Team, TeamAsker, TeamPart,
    asker::{not_allowed, one_line},
};
use crate::{
    checks::check_mail,
    fault::{Checked, Fault},
    id::OptOutId,
    people::{MessagesOf, OptOut},
    value::{Country, phone_number},
};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// Most addresses that are kept. Each is one that we wrote to, or that an owner named.
const LIMIT: u32 = 200_000;

/// What becomes of the messages to an address outside.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OptOutWish {
    pub address: String,
    pub to: Wanted,
}

/// Which messages somebody outside wants no more, or wants again.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Wanted {
    /// No more of these.
    NotThese(MessagesOf),
    /// None at all. `by`: the messages in one of which they said so.
    None { by: Option<MessagesOf> },
    /// These again.
    These(MessagesOf),
    /// All again.
    All,
}

/// What somebody says at the link in one of their messages.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum OptOutSaid {
    /// No more of these.
    NotThese,
    /// None at all.
    None,
    /// These again, and all others that they did not decline by themselves.
    Again,
}

impl OptOutSaid {
    /// What that wishes; `of`: the messages of which theirs is one, where it is not the only one of its kind.
    pub fn wish(self, address: &str, of: Option<MessagesOf>) -> OptOutWish {
        let to = match (self, of) {
            (OptOutSaid::NotThese, Some(of)) => Wanted::NotThese(of),
            (OptOutSaid::NotThese | OptOutSaid::None, by) => Wanted::None { by },
            (OptOutSaid::Again, Some(of)) => Wanted::These(of),
            (OptOutSaid::Again, None) => Wanted::All,
        };
        OptOutWish { address: address.to_owned(), to }
    }
}

/// What the page at such a link tells.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OptOutView {
    /// What the team is called.
    pub team: String,
    pub title: String,
    /// Which messages the address gets now.
    pub says: String,
    /// What can be said now, in the words of its buttons; the nearest first.
    pub offers: Vec<OptOutOffer>,
    /// What is sent all the same.
    pub small: String,
}

/// Something that can be said.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OptOutOffer {
    pub says: OptOutSaid,
    pub words: String,
}

fn not_yours() -> Fault {
    not_allowed("Whether an address gets any messages at all is said by the team’s owners; of a tracker’s, by its stewards.")
}

impl Team {
    /// What the page at the link in a message tells; `subject`: what that message says first.
    pub fn opt_out_view(&self, address: &str, subject: &str, of: Option<MessagesOf>) -> OptOutView {
        let team = if self.name().is_empty() { "this team" } else { self.name() };
        let offer = |says, words: &str| OptOutOffer { says, words: words.to_owned() };
        let none = offer(OptOutSaid::None, "No messages at all");
        let (says, offers) = if !self.people.wants(address, None) {
            (format!("{address} gets no messages from {team} any more."), vec![offer(OptOutSaid::Again, "Send messages again")])
        } else if !self.people.wants(address, of) {
            let says = format!("{address} gets no more messages such as “{subject}” from {team}.");
            (says, vec![offer(OptOutSaid::Again, "Send these again"), none])
        } else {
            let says = format!("{address} gets messages such as “{subject}” from {team}.");
            let these = of.map(|_| offer(OptOutSaid::NotThese, "No more of these"));
            (says, these.into_iter().chain([none]).collect())
        };
        OptOutView {
            team: team.to_owned(),
            title: "Which messages you get".to_owned(),
            says,
            offers,
            small: "This is about what is sent by itself. What you ask for, as a code to sign in with, reaches you all the same."
                .to_owned(),
        }
    }

    pub(super) fn opt_out_ops(&self, wish: &OptOutWish, asker: &TeamAsker, now: Timestamp) -> Checked<Vec<Put>> {
        self.may_say(asker, wish.to)?;
        let address = one_line(&wish.address);
        // Of a phone as its number is kept: a + and digits.
        let phone = address.starts_with('+');
        let address = if phone { phone_number(&address, Country::default()) } else { check_mail(&address).map(|()| address) };
        let address = address.map_err(|fault| fault.at("/address"))?;
        let before = self.people.opt_out(&address).cloned();
        let kept = || match &before {
            Some(known) => Ok(known.clone()),
            None => {
                let id = self.people.opt_outs().map(|one| one.id.get()).max().unwrap_or(0).checked_add(1);
                let id = id.filter(|id| *id <= LIMIT).and_then(OptOutId::new);
                let id = id.ok_or_else(|| not_allowed("So many addresses want no messages that no more can be kept."))?;
                Ok::<_, Fault>(OptOut { id, address: address.clone(), all: false, of: Default::default(), since: now })
            }
        };
        let mut after = match wish.to {
            Wanted::NotThese(_) | Wanted::None { .. } => kept()?,
            // Who wants everything has nothing to take back.
            Wanted::These(_) | Wanted::All => match &before {
                Some(known) => known.clone(),
                None => return Ok(Vec::new()),
            },
        };
        match wish.to {
            Wanted::NotThese(of) => {
                after.of.insert(of);
            }
            Wanted::None { by } => {
                after.all = true;
                after.of.extend(by);
            }
            Wanted::These(of) => {
                after.all = false;
                after.of.remove(&of);
            }
            Wanted::All => {
                after.all = false;
                after.of.clear();
            }
        }
        let after = (after.all || !after.of.is_empty()).then_some(TeamPart::OptOut(after));
        Ok(vec![Put { before: before.map(TeamPart::OptOut), after }])
    }

    /// Whether somebody may say such a thing at all, of whichever address: who may not learns nothing of any.
    fn may_say(&self, asker: &TeamAsker, to: Wanted) -> Result<(), Fault> {
        let TeamAsker::Person { me, runs, .. } = asker else { return Ok(()) };
        let own = matches!(to, Wanted::NotThese(of) | Wanted::These(of) if runs.contains(&of.tracker));
        if own || self.is_owner(*me) { Ok(()) } else { Err(not_yours()) }
    }

    /// Whether somebody may say what messages an address gets: an owner; of the messages of their own trackers, whoever runs those.
    pub(super) fn may_opt_out(&self, asker: &TeamAsker, before: Option<&OptOut>, after: Option<&OptOut>) -> Result<(), Fault> {
        let TeamAsker::Person { me, runs, .. } = asker else { return Ok(()) };
        if self.is_owner(*me) {
            return Ok(());
        }
        let all = |one: Option<&OptOut>| one.is_some_and(|one| one.all);
        let of = |one: Option<&OptOut>| one.map(|one| one.of.clone()).unwrap_or_default();
        let (had, has) = (of(before), of(after));
        let own = had.symmetric_difference(&has).all(|of| runs.contains(&of.tracker));
        if own && all(before) == all(after) {
            return Ok(());
        }
        Err(not_yours())
    }

    /// The addresses that want no more messages, as somebody may know them: an owner all, a steward those of their trackers.
    pub fn opt_outs_for(&self, asker: &TeamAsker) -> Vec<OptOut> {
        let TeamAsker::Person { me, runs, .. } = asker else { return self.people.opt_outs().cloned().collect() };
        if self.is_owner(*me) {
            return self.people.opt_outs().cloned().collect();
        }
        let own = |one: &OptOut| {
            let of: std::collections::BTreeSet<MessagesOf> = one.of.iter().filter(|of| runs.contains(&of.tracker)).copied().collect();
            (!of.is_empty()).then(|| OptOut { of, ..one.clone() })
        };
        self.people.opt_outs().filter_map(own).collect()
    }
}
