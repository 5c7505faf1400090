//! The tables as Diesel knows them; see `migrations`.

diesel::table! {
    account (person_id) { person_id -> Integer, mail -> Nullable<Text>, password_hash -> Nullable<Text>, }
}
diesel::table! {
    session (token_hash) {
        token_hash -> Bytea,
        person_id -> Integer,
        stands_in -> Nullable<Integer>,
        created_at -> Timestamptz,
        expires_at -> Timestamptz,
        used_at -> Nullable<Timestamptz>,
        device -> Text,
    }
}
diesel::table! {
    ticket (token_hash) {
        token_hash -> Bytea,
        person_id -> Integer,
        purpose -> Text,
        about -> Text,
        made_at -> Timestamptz,
        expires_at -> Timestamptz,
        opened_at -> Nullable<Timestamptz>,
        used_at -> Nullable<Timestamptz>,
        tries -> Integer,
    }
}
diesel::table! {
    page_link (link) { link -> Text, tracker_id -> Integer, page_id -> Integer, }
}
diesel::table! {
    page_session (token_hash) {
        token_hash -> Bytea,
        tracker_id -> Integer,
        page_id -> Integer,
        guest_id -> Nullable<Integer>,
        let_in_by -> Bytea,
        expires_at -> Timestamptz,
    }
}
diesel::table! {
    page_code (tracker_id, page_id, guest_id) {
        tracker_id -> Integer,
        page_id -> Integer,
        guest_id -> Integer,
        code_hash -> Bytea,
        expires_at -> Timestamptz,
        tries -> Integer,
    }
}
diesel::table! {
    page_visit (tracker_id, page_id, guest_id) {
        tracker_id -> Integer, page_id -> Integer, guest_id -> Integer, visits -> BigInt, last_at -> Timestamptz,
    }
}
diesel::table! {
    tracker (id) { id -> Integer, seq -> BigInt, turned_on -> Nullable<Date>, wakes_at -> Nullable<Timestamptz>, }
}
diesel::table! {
    part (tracker_id, sort, number) { tracker_id -> Integer, sort -> Text, number -> Integer, body -> Json, format -> SmallInt, }
}
diesel::table! {
    place (tracker_id, part_id, record_id) {
        tracker_id -> Integer, part_id -> Integer, record_id -> Integer, rank -> Text, is_lines -> Bool,
    }
}
diesel::table! {
    comment (tracker_id, table_id, record_id, comment_id) {
        tracker_id -> Integer, table_id -> Integer, record_id -> Integer, comment_id -> Integer, body -> Json, format -> SmallInt,
    }
}
diesel::table! {
    attention (tracker_id, table_id, record_id, person_id) {
        tracker_id -> Integer, table_id -> Integer, record_id -> Integer, person_id -> Integer, last_read -> Integer, follows -> Bool,
    }
}
diesel::table! {
    draft (tracker_id, person_id, draft_id) {
        tracker_id -> Integer,
        person_id -> Integer,
        draft_id -> Integer,
        table_id -> Integer,
        cells -> Json,
        format -> SmallInt,
        changed_at -> Timestamptz,
    }
}
diesel::table! {
    draft_line (tracker_id, person_id, draft_id, line_id) {
        tracker_id -> Integer,
        person_id -> Integer,
        draft_id -> Integer,
        line_id -> Integer,
        field_id -> Integer,
        cells -> Json,
        format -> SmallInt,
        place -> Integer,
    }
}
diesel::table! {
    draft_file (tracker_id, person_id, draft_id, field_id, id) {
        tracker_id -> Integer,
        person_id -> Integer,
        draft_id -> Integer,
        field_id -> Integer,
        place -> Integer,
        id -> Text,
        name -> Text,
        media -> Text,
        size -> BigInt,
    }
}
diesel::table! {
    counter (tracker_id, field_id, period) { tracker_id -> Integer, field_id -> Integer, period -> Text, last -> BigInt, }
}
diesel::table! {
    record (tracker_id, table_id, record_id) {
        tracker_id -> Integer,
        table_id -> Integer,
        record_id -> Integer,
        created_at -> Timestamptz,
        created_by -> Json,
        changed_at -> Timestamptz,
        changed_by -> Json,
        version -> Integer,
        gone -> Bool,
        cells -> Json,
        seq -> BigInt,
        arrival -> Nullable<Json>,
        moved -> Nullable<Json>,
    }
}
diesel::table! {
    change (tracker_id, seq) {
        tracker_id -> Integer, seq -> BigInt, at -> Timestamptz, body -> Json, key -> Nullable<Text>, answer -> Nullable<Json>,
        format -> SmallInt,
    }
}
diesel::table! {
    sheaf (tracker_id, seq, place) {
        tracker_id -> Integer,
        seq -> BigInt,
        place -> Integer,
        table_id -> Integer,
        first_record -> Integer,
        last_record -> Integer,
        op -> Json,
        open -> Bool,
        format -> SmallInt,
    }
}
diesel::table! {
    touched (tracker_id, table_id, record_id, seq) { tracker_id -> Integer, table_id -> Integer, record_id -> Integer, seq -> BigInt, }
}
diesel::table! {
    file (tracker_id, id) {
        tracker_id -> Integer,
        id -> Text,
        table_id -> Integer,
        record_id -> Integer,
        field_id -> Nullable<Integer>,
        name -> Text,
        media -> Text,
        size -> BigInt,
        text_state -> SmallInt,
        text_due -> Timestamptz,
        let_go_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    file_text (number) { number -> BigInt, tracker_id -> Integer, file_id -> Text, text -> Text, }
}
diesel::table! {
    emptied (tracker_id, table_id, record_id) { tracker_id -> Integer, table_id -> Integer, record_id -> Integer, }
}
diesel::table! {
    receipt (hash) { hash -> Text, tracker_id -> Integer, table_id -> Integer, record_id -> Integer, }
}
diesel::table! {
    way_log (id) {
        id -> BigInt,
        tracker_id -> Integer,
        form_id -> Integer,
        at -> Timestamptz,
        way -> Text,
        record_id -> Nullable<Integer>,
        note -> Text,
    }
}
diesel::table! {
    form_count (tracker_id, form_id, what) { tracker_id -> Integer, form_id -> Integer, what -> Text, number -> BigInt, }
}
diesel::table! {
    form_link (link) { link -> Text, tracker_id -> Integer, form_id -> Integer, }
}
diesel::table! {
    run (tracker_id, id) {
        tracker_id -> Integer,
        id -> BigInt,
        automation_id -> Integer,
        table_id -> Integer,
        record_id -> Nullable<Integer>,
        seq -> BigInt,
        at -> Timestamptz,
        log -> Json,
        waits_until -> Nullable<Timestamptz>,
        paused -> Nullable<Json>,
        asked_at -> Nullable<BigInt>,
        calls_at -> Nullable<Timestamptz>,
        called -> Integer,
        calling -> Bool,
    }
}
diesel::table! {
    pace (tracker_id, automation_id, reader, hour) {
        tracker_id -> Integer,
        automation_id -> Integer,
        reader -> Text,
        hour -> Timestamptz,
        sent -> Integer,
        told -> Bool,
    }
}
diesel::table! {
    occasion (tracker_id, automation_id) {
        tracker_id -> Integer,
        automation_id -> Integer,
        upto -> Timestamptz,
        going_at -> Nullable<Timestamptz>,
        next_record -> Nullable<Integer>,
    }
}
diesel::table! {
    job (id) {
        id -> BigInt,
        tracker_id -> Integer,
        run_id -> BigInt,
        key -> Text,
        mail -> Json,
        state -> Text,
        attempts -> Integer,
        due_at -> Timestamptz,
        note -> Text,
    }
}
diesel::table! {
    notice (id) {
        id -> BigInt,
        person_id -> Integer,
        at -> Timestamptz,
        tracker_id -> Nullable<Integer>,
        body -> Json,
        read_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    morning (person_id, day) { person_id -> Integer, day -> Date, }
}
diesel::table! {
    inbox_wish (person_id, word) { person_id -> Integer, word -> Text, elsewhere -> Text, }
}
diesel::table! {
    task (id) {
        id -> BigInt,
        by_id -> Integer,
        who_id -> Integer,
        what -> Text,
        note -> Text,
        due -> Nullable<Date>,
        urgent -> Bool,
        tracker_id -> Nullable<Integer>,
        table_id -> Nullable<Integer>,
        record_id -> Nullable<Integer>,
        made_at -> Timestamptz,
        done_at -> Nullable<Timestamptz>,
        handed_with -> Nullable<BigInt>,
        handed_from -> Nullable<Integer>,
        handed_to -> Nullable<Integer>,
    }
}
diesel::table! {
    reply (job_id) {
        job_id -> BigInt,
        tracker_id -> Integer,
        table_id -> Integer,
        record_id -> Integer,
        person_id -> Nullable<Integer>,
        until -> Timestamptz,
        answered_seq -> Nullable<BigInt>,
        answered_at -> Nullable<Timestamptz>,
        words -> Nullable<Text>,
    }
}
diesel::table! {
    reply_token (token_hash) { token_hash -> Bytea, job_id -> BigInt, }
}
diesel::table! {
    opt_out_token (token_hash) {
        token_hash -> Bytea,
        address -> Text,
        subject -> Text,
        tracker_id -> Nullable<Integer>,
        part_id -> Nullable<Integer>,
        made_at -> Timestamptz,
    }
}
diesel::table! {
    message (id) {
        id -> BigInt,
        message_id -> Text,
        received_at -> Timestamptz,
        sender -> Text,
        recipient -> Text,
        subject -> Text,
        body -> Text,
        raw -> Bytea,
        came_by -> Text,
    }
}

diesel::table! {
    template (id) {
        id -> Integer,
        title -> Text,
        description -> Text,
        icon -> Text,
        hue -> Text,
        published_by -> Integer,
        published_at -> Timestamptz,
        body -> Json,
        format -> SmallInt,
    }
}
diesel::table! {
    upload (token) { token -> Text, owner -> Integer, name -> Text, at -> Timestamptz, size -> BigInt, got -> BigInt, }
}
diesel::table! {
    visit (person_id, tracker_id) { person_id -> Integer, tracker_id -> Integer, at -> Timestamptz, }
}
diesel::table! {
    handed (team_seq, tracker_id) { team_seq -> BigInt, tracker_id -> Integer, seq -> BigInt, }
}
diesel::table! {
    passkey (credential_id) {
        credential_id -> Bytea,
        person_id -> Integer,
        name -> Text,
        body -> Json,
        made_at -> Timestamptz,
        used_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    passkey_asked (token_hash) { token_hash -> Bytea, person_id -> Nullable<Integer>, body -> Json, expires_at -> Timestamptz, }
}
diesel::table! {
    pin (person_id, tracker_id) { person_id -> Integer, tracker_id -> Integer, }
}
diesel::table! {
    calendar_address (id) {
        id -> BigInt,
        token_hash -> Bytea,
        person_id -> Integer,
        tracker_id -> Integer,
        view_id -> Integer,
        made_at -> Timestamptz,
        looked_at -> Nullable<Timestamptz>,
    }
}

diesel::allow_tables_to_appear_in_same_query!(change, touched, sheaf, run, job, reply, reply_token, account, session);
