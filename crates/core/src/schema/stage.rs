//! How far a tracker is in its life, and what another stage would do.

use crate::{
    access::{Asker, Lens},
    automation::Automation,
    dataset::Dataset,
    fault::{Fault, FaultKind},
    form::{Form, FormState},
    history::{Change, Op},
    id::PersonId,
    intent::Intent,
    part::Part,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// How far a tracker is in its life.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Stage {
    #[default]
    Open,
    /// It is read, and nothing in it changes.
    Closed,
    /// The same, and it is listed among what was put away.
    Away,
    /// Only its stewards see it, among what was removed.
    Removed,
}

impl Stage {
    /// Whether anything in it may change.
    pub fn is_open(&self) -> bool {
        *self == Stage::Open
    }

    /// As it stands behind a tracker's name; nothing while it is open.
    pub fn word(self) -> &'static str {
        match self {
            Stage::Open => "",
            Stage::Closed => "closed",
            Stage::Away => "put away",
            Stage::Removed => "removed",
        }
    }

    /// What holds of the tracker, as a sentence; nothing while it is open.
    pub fn says(self) -> &'static str {
        match self {
            Stage::Open => "",
            Stage::Closed => "It is closed: it can be read, and nothing in it changes.",
            Stage::Away => "It is put away: it can be read, and nothing in it changes.",
            Stage::Removed => "It is removed: only its stewards see it, and nothing in it changes.",
        }
    }
}

/// What another stage would do.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct StageRehearsal {
    /// *Path upkeep is closed*.
    pub title: String,
    pub says: Vec<String>,
}

impl Dataset {
    /// What can't be done because of the tracker's stage. Whether it stands open is said by its stewards, whatever it is; and
    /// Westerfall's own work, such as the turn of the day, goes on.
    pub(crate) fn at_rest(&self, intent: &Intent, asker: Asker) -> Result<(), Fault> {
        let takes_back = |change: &Change| {
            let of_tracker = |part: &Option<Box<Part>>| part.as_deref().is_none_or(|part| matches!(part, Part::Tracker(_)));
            change.ops.iter().all(|op| matches!(op, Op::Put { before, after } if of_tracker(before) && of_tracker(after)))
        };
        let may = match intent {
            Intent::Save(Part::Tracker(_)) | Intent::Turn | Intent::Unpack { .. } | Intent::HandOver(_) => true,
            Intent::Undo { change, .. } => takes_back(change),
            _ => asker == Asker::Westerfall,
        };
        if self.tracker.stage.is_open() || may {
            return Ok(());
        }
        let words = match self.tracker.stage {
            Stage::Removed => "This tracker was removed, and nothing in it changes. One of its stewards can bring it back.",
            _ => "This tracker is closed, and nothing in it changes. One of its stewards can open it again.",
        };
        Err(Fault::new(FaultKind::Closed, words))
    }
}

impl Lens<'_> {
    /// What another stage would do to those who work in it, and to what goes by itself.
    pub fn rehearse_stage(&self, to: Stage) -> StageRehearsal {
        let ds = self.dataset();
        let forms = ds.forms().filter(|form: &&Form| form.state(ds, self.clock()) == FormState::Open).count();
        let automations = ds.automations().filter(|one: &&Automation| one.on).count();
        let others: BTreeSet<PersonId> =
            ds.all_roles().flat_map(|role| role.holders(&ds.people)).map(|p| p.id).filter(|p| self.me() != Some(*p)).collect();
        let stewards = others.iter().filter(|person| ds.holds(**person, &[crate::access::Base::Steward])).count();
        let people = |count: usize| self.clock().customs().count_words(count, "other person", "other people");
        let name = &ds.tracker.name;
        let verb = |count: usize, one: &str, many: &str| if count == 1 { one.to_owned() } else { many.to_owned() };
        let mut says = Vec::new();
        let title = match to {
            Stage::Open => {
                let count = others.len();
                says.push(format!("{} {} in it again, each within their role.", people(count), verb(count, "works", "work")));
                says.push("Its forms take answers and its automations run, as each of them says.".into());
                return StageRehearsal { title: format!("{name} is open again"), says };
            }
            Stage::Closed => format!("{name} is closed"),
            Stage::Away => format!("{name} is put away"),
            Stage::Removed => format!("{name} is removed"),
        };
        match to {
            Stage::Removed => {
                let lose = others.len() - stewards;
                says.push(format!("{} {} it from sight at once.", people(lose), verb(lose, "loses", "lose")));
                says.push("Its stewards find it at home, among what was removed, until one of them brings it back.".into());
            }
            _ => {
                let count = others.len();
                says.push(format!("{} {} on reading it; nobody changes anything in it.", people(count), verb(count, "goes", "go")));
                if to == Stage::Away {
                    says.push("At home it stands among what was put away.".into());
                }
            }
        }
        if forms > 0 {
            says.push(format!(
                "{} {} no more answers.",
                self.clock().customs().count_words(forms, "form", "forms"),
                verb(forms, "takes", "take")
            ));
        }
        if automations > 0 {
            let them = self.clock().customs().count_words(automations, "automation", "automations");
            says.push(format!("{them} {} nothing more to act on.", verb(automations, "has", "have")));
        }
        says.push("Nothing is lost, and it can be taken back.".into());
        StageRehearsal { title, says }
    }
}
