//! Answers to forms. What respondents see and what is accepted come from the same draft: the record as it would be.

use super::{Decider, Numbers};
use crate::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind, Faults},
    form::{
        Answer, Arrival, Form, FormState, LINES_LIMIT, Lines, PARAMETERS_LIMIT, Parameter, ParameterTest, Question, Shown, Unsettled,
        beginning, named,
    },
    history::{Change, Op},
    id::{FieldId, FormId, OptionId, RecordId, TableId},
    people::{Actor, Person},
    schema::{FieldDef, Kind, Link, TEXT_LIMIT},
    value::Input,
    value::{Value, fold},
};

/// An answer as a record would stand by it.
pub struct Drafted {
    /// The questions that are asked, given what was answered before them.
    pub shown: Vec<FieldId>,
    /// The tracker with the record in it, as far as anything asked for it.
    pub draft: Dataset,
    /// The record in the draft.
    pub record: RecordId,
    table: TableId,
    ops: Vec<Op>,
    faults: Vec<Fault>,
    unsettled: Vec<Unsettled>,
    /// How many operations are in the draft.
    applied: usize,
}

impl Drafted {
    /// A cell of the record, as people read it.
    pub fn text(&self, clock: &Clock, table: TableId, field: FieldId) -> String {
        Lens::of_everything(&self.draft, None, clock).text_at(table, self.record, field)
    }

    /// The option that was chosen.
    pub fn choice(&self, field: FieldId) -> Option<OptionId> {
        let chosen = |op: &Op| match op {
            Op::Cell { table, record, field: f, after: Value::Choice(option), .. }
                if *table == self.table && *record == self.record && *f == field =>
            {
                Some(*option)
            }
            _ => None,
        };
        self.ops.iter().rev().find_map(chosen)
    }

    /// Brings the draft up to what was answered so far.
    fn catch_up(&mut self, clock: &Clock, form: FormId) {
        if self.applied < self.ops.len() {
            let change = Change {
                seq: self.draft.seq + 1,
                at: clock.now,
                who: Actor::Form(form),
                undoes: None,
                again: false,
                ops: self.ops[self.applied..].to_vec(),
            };
            self.draft.apply(&change);
            self.applied = self.ops.len();
        }
    }
}

impl Dataset {
    /// An answer, as a record would stand by it; what does not fit is left out.
    pub fn draft_answer(&self, form: &Form, answer: &Answer, clock: &Clock) -> Drafted {
        let decider = Decider::new(self, Asker::Form(form.id), clock);
        let mut drafted = decider.drafted(form, answer);
        let totals = form.questions.iter().any(|q| q.lines.as_ref().is_some_and(|l| l.total.is_some()));
        if totals {
            decider.copy(0, &mut drafted.ops);
            decider.presets(0, &mut drafted.ops);
            drafted.catch_up(clock, form.id);
        }
        drafted
    }
}

impl Decider<'_> {
    /// A new record, with its lines, from an answer.
    pub(super) fn send(&self, form: FormId, answer: &Answer) -> Checked<(Vec<Op>, RecordId)> {
        let form = self.ds.form(form).ok_or_else(|| Fault::not_found("form"))?;
        self.takes(form, answer)?;
        let mut drafted = self.drafted(form, answer);
        Faults::none_or(std::mem::take(&mut drafted.faults))?;
        let mut ops = drafted.ops;
        self.copy(0, &mut ops);
        self.depend(0, &mut ops);
        self.presets(0, &mut ops);
        let added: Vec<_> = ops.iter().filter(|op| matches!(op, Op::Add { .. })).filter_map(Op::record).collect();
        let mut numbers = Numbers::default();
        for (table, record) in added {
            self.number(table, record, &mut numbers, &mut ops);
        }
        let arrival = Arrival {
            parameters: answer.parameters.clone(),
            by: answer.by,
            unsettled: drafted.unsettled,
            receipt: answer.receipt.clone().filter(|_| form.following.is_some()),
            awaits: Vec::new(),
        };
        if arrival != Arrival::default() {
            ops.push(Op::Arrive { table: form.table, record: drafted.record, before: None, after: Some(Box::new(arrival)) });
        }
        Ok((ops, drafted.record))
    }

    /// What somebody who follows their answer changes of it.
    pub(super) fn amend(&self, form: FormId, record: RecordId, answers: &[(FieldId, Input)]) -> Checked<Vec<Op>> {
        let gone = || Fault::not_found("form");
        let form = self.ds.form(form).ok_or_else(gone)?;
        let following = form.following.as_ref().ok_or_else(gone)?;
        let own = self.ds.table(form.table).and_then(|t| t.meta(record)).is_some_and(|m| !m.gone && m.created_by == Actor::Form(form.id));
        if !own {
            return Err(Fault::not_found("record").into());
        }
        if !following.while_.holds(self.lens.whole(), form.table, record) {
            return Err(Fault::new(FaultKind::Closed, "This can’t be changed from here any more.").into());
        }
        let mut ops = Vec::new();
        let mut faults = Vec::new();
        for (field, input) in answers {
            let at = format!("/answers/{field}");
            let Some(question) = form.question(*field).filter(|q| following.adds.contains(&q.field)) else {
                faults.push(Fault::new(FaultKind::NotAllowed, "This can’t be changed from here.").at(at));
                continue;
            };
            match self.cell(form.table, record, *field, input, None, false) {
                Ok(found) if question.required && found.iter().any(|op| matches!(op, Op::Cell { after: Value::Empty, .. })) => {
                    faults.push(Fault::new(FaultKind::Missing, format!("Please answer “{}”.", question.label)).at(at));
                }
                Ok(found) => ops.extend(found),
                Err(fault) => faults.push(fault.at(at)),
            }
        }
        Faults::none_or(faults)?;
        self.copy(0, &mut ops);
        self.depend(0, &mut ops);
        Ok(ops)
    }

    /// Whether the form takes this answer now, whatever it says.
    fn takes(&self, form: &Form, answer: &Answer) -> Result<(), Fault> {
        let own = |text: &str| if form.closed_text.is_empty() { text.to_owned() } else { form.closed_text.clone() };
        let closed = |text: &str| Err(Fault::new(FaultKind::Closed, own(text)));
        match form.state(self.ds, self.clock) {
            FormState::Open => {}
            FormState::Closed => return closed("This form takes no answers at the moment."),
            FormState::Early => return closed("This form is not open yet."),
            FormState::Over => return closed("This form is closed: its time is over."),
            FormState::Full => return closed("This form is closed: it has as many answers as it takes."),
        }
        if !answer.trusted {
            form.admits(self.ds, answer.by)?;
        }
        let long = |p: &Parameter| p.name.chars().count() > 100 || p.value.chars().count() > TEXT_LIMIT;
        if answer.parameters.len() > PARAMETERS_LIMIT || answer.parameters.iter().any(long) {
            return Err(Fault::new(FaultKind::TooLong, "The address of this form says too much. Use the address that you were given."));
        }
        Ok(())
    }

    fn drafted(&self, form: &Form, answer: &Answer) -> Drafted {
        let rows = self.ds.table(form.table).map_or(0, crate::dataset::Table::rows);
        let record = RecordId::at_row(rows);
        let mut drafted = Drafted {
            shown: Vec::new(),
            draft: self.ds.clone(),
            record,
            table: form.table,
            ops: vec![Op::Add { table: form.table, record }],
            faults: Vec::new(),
            unsettled: Vec::new(),
            applied: 0,
        };
        for question in &form.questions {
            if !self.is_shown(form, question, answer, &mut drafted) {
                continue;
            }
            drafted.shown.push(question.field);
            match &question.lines {
                Some(lines) => self.answer_lines(form, question, lines, answer, &mut drafted),
                None => self.answer_one(form, question, answer, &mut drafted),
            }
        }
        let asked = |field: &FieldId| form.question(*field).is_some();
        for (field, _) in answer.answers.iter().filter(|(f, _)| !asked(f)) {
            drafted.faults.push(Fault::new(FaultKind::NotFound, "This form does not ask that.").at(format!("/answers/{field}")));
        }
        drafted
    }

    /// Whether a question is asked, after what was answered before it. One that is not is not required, and what may have
    /// been answered to it is left out.
    fn is_shown(&self, form: &Form, question: &Question, answer: &Answer, drafted: &mut Drafted) -> bool {
        let Shown { condition, parameters } = &question.shown;
        if !parameters.iter().all(|test| test.holds(&answer.parameters)) {
            return false;
        }
        if condition.is_nothing() {
            return true;
        }
        drafted.catch_up(self.clock, form.id);
        let lens = Lens::of_everything(&drafted.draft, answer.by, self.clock);
        condition.holds(&lens, form.table, drafted.record)
    }

    fn answer_one(&self, form: &Form, question: &Question, answer: &Answer, drafted: &mut Drafted) {
        let Some(def) = self.ds.table(form.table).and_then(|t| t.def.field(question.field)) else { return };
        let at = format!("/answers/{}", question.field);
        let typed = answer.answers.iter().find(|(f, _)| *f == question.field).map(|(_, input)| input);
        let quiet = question.hidden.then(|| beginning(self.ds, self.clock, question, def, &answer.parameters)).flatten().map(Input::Value);
        let input = if question.hidden { quiet.as_ref() } else { typed };
        let begin = drafted.ops.len();
        match input.map(|input| self.one(form, question, def, input, drafted)) {
            None => {}
            Some(Ok(ops)) => drafted.ops.extend(ops),
            Some(Err(fault)) => return drafted.faults.push(fault.at(at)),
        }
        let holds = |op: &Op| match op {
            Op::Cell { after, .. } => *after != Value::Empty,
            _ => false,
        };
        let waits = drafted.unsettled.iter().any(|u| u.field == question.field);
        if question.required && !question.hidden && !waits && !drafted.ops[begin..].iter().any(holds) {
            drafted.faults.push(Fault::new(FaultKind::Missing, format!("Please answer “{}”.", question.label)).at(at));
        }
    }

    /// The operations of one answer.
    fn one(&self, form: &Form, question: &Question, def: &FieldDef, input: &Input, drafted: &mut Drafted) -> Result<Vec<Op>, Fault> {
        let (table, record) = (form.table, drafted.record);
        if let (Kind::Person | Kind::People, Input::Text(text)) = (&def.kind, input) {
            return Ok(self.people_named(table, record, def, text, &mut drafted.unsettled));
        }
        if let (Kind::Link(link), Input::Text(text)) = (&def.kind, input) {
            let found = named(self.ds, self.clock, question, link.to, text);
            let unknown = || Fault::new(FaultKind::NotFound, format!("Nothing that “{}” offers is called “{text}”.", question.label));
            let picked = Input::Value(Value::Links(vec![found.ok_or_else(unknown)?]));
            return self.one(form, question, def, &picked, drafted);
        }
        let limited = !question.offers.is_nothing() || !def.offers.is_nothing();
        if let (Kind::Link(link), Input::Value(Value::Links(picked)), true) = (&def.kind, input, limited) {
            drafted.catch_up(self.clock, form.id);
            let lens = Lens::of_everything(&drafted.draft, None, self.clock);
            let offered = |r: &RecordId| {
                lens.may_link(table, def, Some(record), *r) && (question.offers.is_nothing() || question.offers.holds(&lens, link.to, *r))
            };
            if !picked.iter().all(offered) {
                let message = format!("“{}” does not offer this one any more. Pick one from its list.", question.label);
                return Err(Fault::new(FaultKind::BadRule, message));
            }
        }
        self.cell(table, record, def.id, input, None, true)
    }

    /// People by name or address. A name that fits nobody, or several, is kept beside the field until somebody settles it.
    pub(super) fn people_named(
        &self,
        table: TableId,
        record: RecordId,
        def: &FieldDef,
        text: &str,
        unsettled: &mut Vec<Unsettled>,
    ) -> Vec<Op> {
        let (after, waiting) = named_people(def, text, |name| self.ds.people.find(name));
        unsettled.extend(waiting);
        if after == Value::Empty {
            return Vec::new();
        }
        vec![Op::Cell { table, record, field: def.id, before: Value::Empty, after }]
    }

    /// People as a visitor of a page writes them, and what of it waits. Only a whole name is matched: an address, or a part of a
    /// name, would tell them whose it is.
    pub(super) fn people_written(&self, def: &FieldDef, text: &str) -> (Value, Vec<Unsettled>) {
        // What waits is shown in quotes, and comes back with them.
        named_people(def, &text.replace(['“', '”'], ""), |name| self.ds.people.named(name))
    }

    fn answer_lines(&self, form: &Form, question: &Question, lines: &Lines, answer: &Answer, drafted: &mut Drafted) {
        let Some(link) = self.ds.table(form.table).and_then(|t| t.link(question.field)) else { return };
        let Some(other) = self.ds.table(link.to) else { return };
        let given = answer.lines.iter().find(|(f, _)| *f == question.field).map_or(&[][..], |(_, lines)| lines);
        let at = format!("/answers/{}", question.field);
        if given.len() > (lines.most as usize).min(LINES_LIMIT) {
            let message = format!("“{}” takes at most {}.", question.label, lines.most);
            return drafted.faults.push(Fault::new(FaultKind::TooLong, message).at(at));
        }
        if question.required && given.is_empty() {
            drafted.faults.push(Fault::new(FaultKind::Missing, format!("Please answer “{}”.", question.label)).at(at));
        }
        let before = drafted.ops.iter().filter(|op| matches!(op, Op::Add { table, .. } if *table == link.to)).count();
        let mut made = Vec::new();
        for (place, line) in given.iter().enumerate() {
            let record = RecordId::at_row(other.rows() + before + place);
            drafted.ops.push(Op::Add { table: link.to, record });
            made.push(record);
            for asked in &lines.questions {
                let at = format!("/lines/{}/{place}/{}", question.field, asked.field);
                let input = line.iter().find(|(f, _)| *f == asked.field).map(|(_, input)| input);
                let found = input.map(|input| self.cell(link.to, record, asked.field, input, None, true));
                let empty = matches!(&found, None | Some(Ok(_))) && !matches!(&found, Some(Ok(ops)) if !ops.is_empty());
                match found {
                    Some(Ok(ops)) => drafted.ops.extend(ops),
                    Some(Err(fault)) => drafted.faults.push(fault.at(&at)),
                    None => {}
                }
                if asked.required && empty {
                    drafted.faults.push(Fault::new(FaultKind::Missing, format!("Please answer “{}”.", asked.label)).at(at));
                }
            }
            let unasked = line.iter().filter(|(f, _)| !lines.questions.iter().any(|q| q.field == *f));
            for (field, _) in unasked {
                let at = format!("/lines/{}/{place}/{field}", question.field);
                drafted.faults.push(Fault::new(FaultKind::NotFound, "This form does not ask that.").at(at));
            }
        }
        drafted.ops.extend(link_lines(form.table, drafted.record, question.field, link, made));
    }

    /// Fills in what fields of new records begin with.
    fn presets(&self, begin: usize, ops: &mut Vec<Op>) {
        let added: Vec<_> = ops[begin..].iter().filter(|op| matches!(op, Op::Add { .. })).filter_map(Op::record).collect();
        for (table, record) in added {
            self.preset(table, record, begin, ops);
        }
    }

    /// What of names given for people is settled by what is written: such a field is settled, but for names that a visitor gives
    /// and that fit nobody.
    pub(super) fn settle<'a>(
        &self,
        table: TableId,
        record: RecordId,
        written: impl Iterator<Item = (FieldId, &'a Input)> + Clone,
    ) -> Option<Op> {
        let before = self.ds.arrival(table, record);
        let mut after = before.cloned().unwrap_or_default();
        after.unsettled.retain(|u| !written.clone().any(|(field, _)| field == u.field));
        if matches!(self.asker, Asker::Visitor { .. }) {
            let home = self.ds.table(table)?;
            for (field, input) in written {
                if let (Some(def), Input::Text(text)) = (home.def.field(field).filter(|def| def.kind.is_people()), input) {
                    after.unsettled.extend(self.people_written(def, text).1);
                }
            }
        }
        if before.map_or(after == Arrival::default(), |before| *before == after) {
            return None;
        }
        Some(Op::Arrive { table, record, before: before.cloned().map(Box::new), after: Some(Box::new(after)) })
    }
}

/// Those whom a text names, and the names in it that fit nobody, or several.
fn named_people<'a>(def: &FieldDef, text: &str, find: impl Fn(&str) -> Option<&'a Person>) -> (Value, Vec<Unsettled>) {
    let names: Vec<&str> = match def.kind {
        Kind::People => text.split([',', ';', '\n']).collect(),
        _ => vec![text],
    };
    let (mut found, mut waiting) = (Vec::new(), Vec::new());
    for name in names.into_iter().map(str::trim).filter(|name| !name.is_empty()) {
        match find(name) {
            Some(person) if !found.contains(&person.id) => found.push(person.id),
            Some(_) => {}
            None => waiting.push(Unsettled { field: def.id, text: name.chars().take(TEXT_LIMIT).collect() }),
        }
    }
    let value = match (&def.kind, &found[..]) {
        (_, []) => Value::Empty,
        (Kind::People, _) => Value::People(found),
        (_, [first, ..]) => Value::Person(*first),
    };
    (value, waiting)
}

/// Links lines to the record that they are of, from whichever side holds the link.
pub(super) fn link_lines(table: TableId, record: RecordId, field: FieldId, link: Link, made: Vec<RecordId>) -> Vec<Op> {
    if made.is_empty() {
        return Vec::new();
    }
    if link.holds {
        return vec![Op::Cell { table, record, field, before: Value::Empty, after: Value::Links(made) }];
    }
    let held = |line: RecordId| Op::Cell {
        table: link.to,
        record: line,
        field: link.back,
        before: Value::Empty,
        after: Value::Links(vec![record]),
    };
    made.into_iter().map(held).collect()
}

impl ParameterTest {
    fn holds(&self, parameters: &[Parameter]) -> bool {
        let said = |p: &Parameter| p.name == self.name && fold(p.value.trim()) == fold(self.is.trim());
        parameters.iter().any(said) != self.not
    }
}

/// The people whom a name could mean: all its words are in theirs, or it is their address.
pub(crate) fn candidates(ds: &Dataset, text: &str) -> Vec<crate::id::PersonId> {
    let wanted = fold(text.trim()).into_owned();
    let words: Vec<&str> = wanted.split_whitespace().collect();
    let fits = |name: &str| words.iter().all(|w| fold(name).split_whitespace().any(|part| part == *w));
    let found = ds.people.here().filter(|p| (!p.mail.is_empty() && fold(&p.mail) == wanted) || fits(&p.name));
    found.map(|p| p.id).take(20).collect()
}
