//! How a table feeds people's rounds: who is responsible for a record, by when, what means done, how urgent it is.

use crate::{
    id::{FieldId, OptionId},
    names::{Hold, See, field, maybe, option, path},
};
use serde::{Deserialize, Serialize};

/// Most fields that tell a record apart in rounds.
pub const MOST_TELLS: usize = 3;

/// What a table says of its records for everybody's rounds.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Rounds {
    /// A field of persons, perhaps along links: whose it is.
    pub who: Vec<FieldId>,
    /// A day, a moment or a span: by when; computed ones, too.
    #[serde(default)]
    pub due: Option<FieldId>,
    pub done: Finish,
    /// A choice whose later options are more urgent.
    #[serde(default)]
    pub urgency: Option<FieldId>,
    /// What is told beside its name.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub tells: Vec<FieldId>,
}

/// What means done, and so what pressing *done* puts in.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Finish {
    /// A choice is any of these; the first is put in.
    Options { field: FieldId, any: Vec<OptionId> },
    /// A yes or no is yes.
    Yes(FieldId),
    /// A day stands there; the day it is, is put in.
    Filled(FieldId),
    /// It comes round again: the day it is, is put in, and its next day follows from that.
    Noted(FieldId),
}

impl Finish {
    /// The field that says so.
    pub fn field(&self) -> FieldId {
        match self {
            Finish::Options { field, .. } | Finish::Yes(field) | Finish::Filled(field) | Finish::Noted(field) => *field,
        }
    }
}

impl Rounds {
    /// What it names; false where it says too little without what goes.
    pub(super) fn each(&mut self, see: &mut See<'_>) -> bool {
        let needs = Hold::Shows("puts its records into rounds by it");
        let whose = path(&mut self.who, needs, see);
        let finish = match &mut self.done {
            Finish::Options { field: id, any } => {
                any.retain_mut(|one| option(one, needs, see));
                field(id, needs, see) && !any.is_empty()
            }
            Finish::Yes(id) | Finish::Filled(id) | Finish::Noted(id) => field(id, needs, see),
        };
        maybe(&mut self.due, needs, see);
        maybe(&mut self.urgency, needs, see);
        self.tells.retain_mut(|id| field(id, Hold::Shows("tells of it in rounds"), see));
        whose && finish
    }
}
