DROP TABLE message, run, job, form_link, file, touched, change, record, counter, part, tracker, session, person;
