//! What somebody says about a record, changes of it, or takes back.

use super::Decider;
use crate::{
    access::{Asker, Lens},
    fault::{Checked, Fault, FaultKind},
    history::Op,
    id::{AutomationId, CommentId, PersonId, RecordId, TableId},
    talk::{Comment, LONGEST, MOST, MOST_FILES, MOST_NAMED, TalkPart, TalkStep},
    value::Attachment,
};

impl Decider<'_> {
    pub(super) fn talk(&self, table: TableId, record: RecordId, step: &TalkStep) -> Checked<Vec<Op>> {
        let me = self.speaker()?;
        if !self.lens.sees(table, record) {
            return Err(Fault::not_found("record").into());
        }
        // For an automation that is asked of whom it acts for, by whoever switched it on.
        if matches!(self.asker, Asker::Person(_)) {
            self.lens.must_hear(table, record)?;
        }
        if !self.ds.tracker.stage.is_open() {
            return Err(Fault::new(FaultKind::NotAllowed, "This tracker is closed: it is only read.").into());
        }
        let (before, after) = match step {
            TalkStep::Say { said, files, answers } => {
                let said = self.said_anew(me, table, record, (said, files), *answers)?;
                (None, Comment { through: self.automation(), ..said })
            }
            TalkStep::Change { comment, said, files } => {
                let before = self.own_comment(me, table, record, *comment)?;
                let stays: Vec<Attachment> = before.files.iter().filter(|file| files.contains(&file.id)).cloned().collect();
                let said = self.checked_parts(said, &stays)?;
                let changed = Some(self.clock.now).filter(|_| said != before.said || stays != before.files).or(before.changed);
                (Some(before.clone()), Comment { said, files: stays, changed, ..before })
            }
            TalkStep::Remove { comment } => {
                let before = self.comment(table, record, *comment)?;
                if before.by != me && !self.lens.is_steward() {
                    return Err(Fault::new(FaultKind::NotAllowed, "Only whoever said it, or a steward, takes it back.").into());
                }
                (Some(before.clone()), Comment { said: Vec::new(), files: Vec::new(), changed: None, ..before })
            }
        };
        if before.as_ref() == Some(&after) {
            return Ok(Vec::new());
        }
        Ok(vec![Op::Say { table, record, before: before.map(Box::new), after: Some(Box::new(after)) }])
    }

    /// Whoever speaks; for an automation, whom it acts for.
    fn speaker(&self) -> Result<PersonId, Fault> {
        let acts_for = self.automation().and_then(|id| self.ds.automation(id)?.acts_for);
        match self.asker {
            Asker::Person(me) => Ok(me),
            _ => acts_for.ok_or_else(|| Fault::new(FaultKind::NotAllowed, "Only people of the team talk about records here.")),
        }
    }

    fn automation(&self) -> Option<AutomationId> {
        if let Asker::Automation(id) = self.asker { Some(id) } else { None }
    }

    /// Taking back what was said is whoever’s who said it, and bringing back what a steward took away the steward’s.
    pub(super) fn may_unsay(&self, table: TableId, record: RecordId, comment: Option<&Comment>) -> Result<(), Fault> {
        let mine = comment.is_some_and(|comment| self.asker == Asker::Person(comment.by));
        let may = self.lens.hears(table, record) && (mine || self.lens.is_steward());
        if may { Ok(()) } else { Err(Fault::not_found("comment")) }
    }

    fn comment(&self, table: TableId, record: RecordId, id: CommentId) -> Result<Comment, Fault> {
        let comment = self.ds.table(table).and_then(|home| home.talk.get(record, id));
        comment.filter(|comment| !comment.is_gone()).cloned().ok_or_else(|| Fault::not_found("comment"))
    }

    fn own_comment(&self, me: PersonId, table: TableId, record: RecordId, id: CommentId) -> Result<Comment, Fault> {
        let comment = self.comment(table, record, id)?;
        if comment.by == me && comment.through.is_none() {
            return Ok(comment);
        }
        Err(Fault::new(FaultKind::NotAllowed, "Only whoever said it changes it. You can answer it."))
    }

    fn said_anew(
        &self,
        me: PersonId,
        table: TableId,
        record: RecordId,
        (said, files): (&[TalkPart], &[Attachment]),
        answers: Option<CommentId>,
    ) -> Checked<Comment> {
        let home = self.ds.table(table).ok_or_else(|| Fault::not_found("table"))?;
        let last = home.talk.of(record).map(|comment| comment.id.get()).max().unwrap_or(0);
        let id = CommentId::new(last.saturating_add(1)).filter(|_| home.talk.of(record).count() < MOST);
        let id = id.ok_or_else(|| Fault::new(FaultKind::TooLong, format!("At most {MOST} comments are kept on one record.")))?;
        // An answer to an answer stands under what both answer.
        let answers = match answers {
            Some(to) => {
                let to = home.talk.get(record, to).ok_or_else(|| Fault::not_found("comment").at("/say/answers"))?;
                Some(to.answers.unwrap_or(to.id))
            }
            None => None,
        };
        let said = self.checked_parts(said, files)?;
        Ok(Comment { id, by: me, through: None, at: self.clock.now, changed: None, answers, said, files: files.to_vec() })
    }

    /// What is said beside these files, without what says nothing at its ends and between.
    fn checked_parts(&self, said: &[TalkPart], files: &[Attachment]) -> Checked<Vec<TalkPart>> {
        let wrong = |kind, message: String| Err(Fault::new(kind, message).at("/said").into());
        let mut parts: Vec<TalkPart> = Vec::new();
        for part in said {
            match (part, parts.last_mut()) {
                (TalkPart::Text(text), Some(TalkPart::Text(before))) => before.push_str(text),
                (part, _) => parts.push(part.clone()),
            }
        }
        if let Some(TalkPart::Text(first)) = parts.first_mut() {
            *first = first.trim_start().to_owned();
        }
        if let Some(TalkPart::Text(last)) = parts.last_mut() {
            *last = last.trim_end().to_owned();
        }
        parts.retain(|part| !matches!(part, TalkPart::Text(text) if text.is_empty()));
        let letters: usize = parts.iter().map(|part| if let TalkPart::Text(text) = part { text.chars().count() } else { 0 }).sum();
        let named = parts.iter().filter(|part| !matches!(part, TalkPart::Text(_))).count();
        if parts.is_empty() && files.is_empty() {
            return wrong(FaultKind::Missing, "Say something first.".to_owned());
        }
        if files.len() > MOST_FILES {
            return wrong(FaultKind::TooLong, format!("A comment brings at most {MOST_FILES} files; this brings {}.", files.len()));
        }
        if letters > LONGEST {
            return wrong(FaultKind::TooLong, format!("A comment has at most {LONGEST} characters; this has {letters}."));
        }
        if named > MOST_NAMED {
            return wrong(FaultKind::TooLong, format!("A comment names at most {MOST_NAMED} people and records; this names {named}."));
        }
        if parts.iter().all(|part| is_there(&self.lens, part)) {
            Ok(parts)
        } else {
            Err(Fault::not_found("person or record").at("/said").into())
        }
    }
}

/// Whether whom or what a part names is there for whoever speaks.
fn is_there(lens: &Lens<'_>, part: &TalkPart) -> bool {
    match part {
        TalkPart::Text(_) => true,
        TalkPart::Person(person) => lens.ds.people.get(*person).is_some(),
        TalkPart::Group(group) => lens.speaks_to(*group),
        TalkPart::Record { table, record } => lens.sees(*table, *record),
    }
}
