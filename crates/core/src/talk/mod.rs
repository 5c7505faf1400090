//! Talk: what people say about a record. It hangs on the record and is no change of it: neither its version nor who changed it last
//! moves, and no automation is set going.

mod read;

pub use read::{Addressee, CommentTold, TalkSpan, Whom};

use crate::{
    id::{AutomationId, CommentId, GroupId, PersonId, RecordId, TableId},
    value::{Attachment, fold},
};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// Longest comment, in characters of its text.
pub const LONGEST: usize = 5_000;
/// Most people, groups and records that one comment names.
pub const MOST_NAMED: usize = 50;
/// Most files that one comment brings.
pub const MOST_FILES: usize = 20;
/// Most comments on one record.
pub const MOST: usize = 10_000;

/// Something somebody said about a record.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Comment {
    /// Its number on its record, from 1; never used again.
    pub id: CommentId,
    pub by: PersonId,
    /// The automation that said it, acting for them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub through: Option<AutomationId>,
    pub at: Timestamp,
    /// When its text was last changed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub changed: Option<Timestamp>,
    /// The comment that it answers; never itself an answer.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub answers: Option<CommentId>,
    /// Empty where it was taken back: what it said is not kept with it.
    pub said: Vec<TalkPart>,
    /// What it brings to look at. Whoever sees the record may, but for visitors of a shared page.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub files: Vec<Attachment>,
}

/// A piece of what is said.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum TalkPart {
    Text(String),
    Person(PersonId),
    Group(GroupId),
    Record { table: TableId, record: RecordId },
}

/// What somebody does in the talk of a record.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum TalkStep {
    Say {
        said: Vec<TalkPart>,
        /// As they came with it: the id of a file can't be made up.
        #[serde(default)]
        files: Vec<Attachment>,
        #[serde(default)]
        answers: Option<CommentId>,
    },
    Change {
        comment: CommentId,
        said: Vec<TalkPart>,
        /// Which of its files stay, by their ids.
        #[serde(default)]
        files: Vec<String>,
    },
    /// Takes it back.
    Remove { comment: CommentId },
}

impl Comment {
    /// Whether it was taken back.
    pub fn is_gone(&self) -> bool {
        self.said.is_empty() && self.files.is_empty()
    }

    /// The people whom it names, those of its groups not among them.
    pub fn names(&self) -> impl Iterator<Item = PersonId> {
        self.said.iter().filter_map(|part| if let TalkPart::Person(person) = part { Some(*person) } else { None })
    }
}

/// A comment as it lies in memory, with its text as words are looked for in it.
#[derive(Debug)]
pub(crate) struct Spoken {
    pub(crate) comment: Comment,
    pub(crate) folded: Box<str>,
}

impl Spoken {
    pub(crate) fn new(comment: Comment) -> Arc<Self> {
        let texts = comment.said.iter().filter_map(|part| if let TalkPart::Text(text) = part { Some(fold(text)) } else { None });
        let names = comment.files.iter().map(|file| fold(&file.name));
        let folded = texts.chain(names).collect::<Vec<_>>().join("\0").into();
        Arc::new(Self { comment, folded })
    }
}

/// All that was said about the records of a table: of each that anything was said about, in the order in which it was said. A copy
/// shares all that did not change.
#[derive(Clone, Debug, Default)]
pub(crate) struct Talk(imbl::OrdMap<RecordId, Arc<[Arc<Spoken>]>>);

impl Talk {
    pub(crate) fn of(&self, record: RecordId) -> impl Iterator<Item = &Comment> {
        self.spoken(record).iter().map(|spoken| &spoken.comment)
    }

    pub(crate) fn spoken(&self, record: RecordId) -> &[Arc<Spoken>] {
        self.0.get(&record).map_or(&[], |list| list)
    }

    pub(crate) fn get(&self, record: RecordId, id: CommentId) -> Option<&Comment> {
        self.of(record).find(|comment| comment.id == id)
    }

    /// All of it, by records.
    pub(crate) fn iter(&self) -> impl Iterator<Item = (RecordId, &[Arc<Spoken>])> {
        self.0.iter().map(|(record, list)| (*record, &**list))
    }

    /// The records of whose talk a file is.
    pub(crate) fn with_file(&self, id: &str) -> impl Iterator<Item = RecordId> {
        let brings = move |spoken: &Arc<Spoken>| spoken.comment.files.iter().any(|file| file.id == id);
        self.iter().filter(move |(_, list)| list.iter().any(brings)).map(|(record, _)| record)
    }

    /// Nothing was said of a record any more.
    pub(crate) fn forget(&mut self, record: RecordId) {
        let said: Vec<CommentId> = self.of(record).map(|comment| comment.id).collect();
        said.into_iter().for_each(|id| self.set(record, id, None));
    }

    /// What is said under this number from now on; nothing: nobody ever said it.
    pub(crate) fn set(&mut self, record: RecordId, id: CommentId, comment: Option<Comment>) {
        let mut list: Vec<Arc<Spoken>> = self.spoken(record).iter().filter(|spoken| spoken.comment.id != id).cloned().collect();
        if let Some(comment) = comment {
            let at = list.partition_point(|spoken| spoken.comment.id < id);
            list.insert(at, Spoken::new(comment));
        }
        if list.is_empty() {
            self.0.remove(&record);
        } else {
            self.0.insert(record, list.into());
        }
    }
}
