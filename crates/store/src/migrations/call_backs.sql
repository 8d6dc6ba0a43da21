-- What came back is read across jobs: by film and by cause.
CREATE INDEX record_of_call_backs ON record (at) WHERE kind = 'call_back';
CREATE INDEX record_of_laid ON record (at) WHERE kind = 'laid';
CREATE INDEX record_of_heat ON record (at) WHERE kind = 'heat';
