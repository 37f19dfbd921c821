export const Ticket = ({ back }) => (
  <p className="ticket">
    <i className="salt-icon salt-ticket" /> {back && <i className="salt-icon salt-ticket-return" />}
    <i className="salt-icon salt-fare" />
  </p>
);
